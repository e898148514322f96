/** Gives the person a text as a file. */
export function download(name: string, text: string, type = 'application/json'): void {
  const address = URL.createObjectURL(new Blob([text], { type })),
    link = document.createElement('a');
  link.href = address;
  link.download = name.replace(/[^\w .-]+/g, '_');
  link.click();
  setTimeout(() => URL.revokeObjectURL(address), 10_000);
}
