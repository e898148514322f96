const UNITS = ['bytes', 'KiB', 'MiB', 'GiB', 'TiB'];
/** `412 MiB`, `7.3 GiB`. */
export function sizeWords(bytes: number): string {
  let size = bytes,
    unit = 0;
  while (size >= 1024 && unit < UNITS.length - 1) {
    size /= 1024;
    unit++;
  }
  return `${unit >= 3 ? size.toFixed(1) : Math.round(size)} ${UNITS[unit]}`;
}
