/** Value of simple arithmetic with + - * / and brackets, such as "1280/2 - 3"; null where it is not a number. */
export function arithmetic(text: string): number | null {
  const tokens = text.replace(/,/g, '.').match(/\d+\.?\d*|\.\d+|[-+*/()]|\S/g) ?? [];
  let at = 0;
  const factor = (): number => {
    const t = tokens[at++];
    if (t === '-') return -factor();
    if (t === '+') return factor();
    if (t === '(') {
      const v = sum();
      return tokens[at++] === ')' ? v : NaN;
    }
    return t === undefined || !/^[\d.]/.test(t) ? NaN : Number(t);
  };
  const product = (): number => {
    let v = factor();
    while (tokens[at] === '*' || tokens[at] === '/') v = tokens[at++] === '*' ? v * factor() : v / factor();
    return v;
  };
  const sum = (): number => {
    let v = product();
    while (tokens[at] === '+' || tokens[at] === '-') v = tokens[at++] === '+' ? v + product() : v - product();
    return v;
  };
  const value = sum();
  return at === tokens.length && Number.isFinite(value) ? value : null;
}
