/**
 * A look-up table for colours: three curves, or a cube. Values are triples of red, green and blue, of a cube with red running fastest.
 */
export interface Cube {
  kind: 'curves' | 'cube';
  size: number;
  low: readonly [number, number, number];
  high: readonly [number, number, number];
  values: Float32Array;
}
const MOST_ENTRIES = 65536,
  MOST_SIDE = 129;

/** True for text that may be one; for telling files apart. */
export const looksLikeCube = (text: string): boolean => /^\s*LUT_[13]D_SIZE\s+\d+/m.test(text);

/**
 * Reads the text of a `.cube` file (Cube LUT Specification 1.0): a title, a size, a domain, then triples; `#` begins a remark.
 * @throws Error in words that follow the file's name, with the line.
 */
export function parseCube(text: string): Cube {
  let kind: Cube['kind'] | null = null,
    size = 0,
    at = 0,
    values = new Float32Array(0);
  const low: [number, number, number] = [0, 0, 0],
    high: [number, number, number] = [1, 1, 1];
  const lines = text.split(/\r\n|\r|\n/);
  lines.forEach((raw, index) => {
    const line = raw.trim(),
      fail = (why: string): never => {
        throw new Error(`line ${index + 1} of the table ${why}`);
      };
    if (!line || line.startsWith('#')) return;
    const [word, ...rest] = line.split(/\s+/) as [string, ...string[]],
      numbers = rest.map(Number);
    if (word === 'TITLE') return;
    if (word === 'DOMAIN_MIN' || word === 'DOMAIN_MAX') {
      if (numbers.length !== 3 || !numbers.every(Number.isFinite)) fail('needs three numbers');
      (word === 'DOMAIN_MIN' ? low : high).splice(0, 3, ...numbers);
      return;
    }
    if (word === 'LUT_1D_INPUT_RANGE' || word === 'LUT_3D_INPUT_RANGE') {
      if (numbers.length !== 2 || !numbers.every(Number.isFinite)) fail('needs two numbers');
      low.fill(numbers[0]!);
      high.fill(numbers[1]!);
      return;
    }
    if (word === 'LUT_1D_SIZE' || word === 'LUT_3D_SIZE') {
      if (kind) fail('gives a second size; one table is read');
      kind = word === 'LUT_3D_SIZE' ? 'cube' : 'curves';
      size = numbers[0]!;
      const most = kind === 'cube' ? MOST_SIDE : MOST_ENTRIES;
      if (!Number.isInteger(size) || size < 2 || size > most) fail(`gives a size of ${rest[0]}; 2 to ${most} are read`);
      values = new Float32Array(3 * (kind === 'cube' ? size * size * size : size));
      return;
    }
    const triple = [Number(word), ...numbers];
    if (triple.length !== 3 || !triple.every(Number.isFinite)) fail('is neither a triple of numbers nor a word that is known');
    if (!kind) fail('comes before the size of the table');
    if (at + 3 > values.length) fail(`is one value too many; the size asks for ${values.length / 3}`);
    values.set(triple, at);
    at += 3;
  });
  if (!kind) throw new Error('it gives no size, so it is no table of colours');
  if (at < values.length) throw new Error(`it breaks off after ${at / 3} of ${values.length / 3} values`);
  if (low.some((v, i) => !(v < high[i]!))) throw new Error('its domain ends before it begins');
  return { kind, size, low, high, values };
}
