import { resolve } from 'node:path';
import { parseArgs } from 'node:util';

/** Bad use: exit 2. Anything else that goes wrong: exit 1. */
export class UsageError extends Error {}

/** An option, as `--help` explains it. */
export interface Option {
  type: 'string' | 'boolean';
  /** What stands for its value in the usage, such as X,Y. */
  value?: string;
  about: string;
  /** It may be given more than once. */
  many?: true;
  /** What counts where it is not given; said in the help. */
  usual?: string;
}

export interface Verb {
  name: string;
  usage: string;
  about: string;
  options: Record<string, Option>;
  positionals: [number, number];
  run(given: Given): Promise<unknown>;
}
export interface Given {
  values: Record<string, string | boolean | readonly string[] | undefined>;
  positionals: string[];
}

/** Paths are relative to where the person stands, also when npm changed the folder. */
export const pathOf = (text: string): string => resolve(process.env.INIT_CWD ?? process.cwd(), text);

export function parse(verb: Verb, args: string[]): Given {
  let parsed;
  try {
    const options = Object.fromEntries(
      Object.entries(verb.options).map(([name, { type, many }]) => [name, { type, multiple: many === true }]),
    );
    parsed = parseArgs({ args, options: { ...options, help: { type: 'boolean', short: 'h' } }, allowPositionals: true, strict: true });
  } catch (error) {
    throw new UsageError(`${verb.name}: ${(error as Error).message.split('. ')[0]}. See wraith ${verb.name} --help.`);
  }
  if (!parsed.values.help && (parsed.positionals.length < verb.positionals[0] || parsed.positionals.length > verb.positionals[1]))
    throw new UsageError(`Usage: wraith ${verb.name} ${verb.usage}`);
  return { values: parsed.values as Given['values'], positionals: parsed.positionals };
}

/** Four corners of something flat, from eight numbers. */
export function cornersOption(given: Given): [number, number][] {
  const text = needed(given, 'corners'),
    numbers = text.split(',').map((n) => (n.trim() === '' ? NaN : Number(n)));
  if (numbers.length !== 8 || !numbers.every(Number.isFinite))
    throw new UsageError(`--corners wants x1,y1,x2,y2,x3,y3,x4,y4, px, clockwise from the top left corner, not "${text}".`);
  return [0, 1, 2, 3].map((i) => [numbers[2 * i]!, numbers[2 * i + 1]!]);
}

/** A text option that must be given. */
export function needed(given: Given, name: string): string {
  const value = given.values[name];
  if (typeof value !== 'string' || value === '') throw new UsageError(`--${name} is needed.`);
  return value;
}
export function numberOption(
  given: Given,
  name: string,
  otherwise: number,
  check: (n: number) => boolean = () => true,
  wants = 'a number',
): number {
  const value = given.values[name];
  if (value === undefined) return otherwise;
  const n = Number(value);
  if (value === '' || !Number.isFinite(n) || !check(n)) throw new UsageError(`--${name} wants ${wants}, not "${String(value)}".`);
  return n;
}
/** "X,Y" as two numbers. */
export function pairOption(text: string, name: string): [number, number] {
  const parts = text.split(',').map(Number);
  if (parts.length !== 2 || parts.some((n) => !Number.isFinite(n)))
    throw new UsageError(`--${name} wants two numbers such as 640,360, not "${text}".`);
  return [parts[0]!, parts[1]!];
}
/** Every value of an option that may be given more than once. */
export const listOption = (given: Given, name: string): readonly string[] => {
  const value = given.values[name];
  return Array.isArray(value) ? (value as readonly string[]) : [];
};
/** The help of a verb: its use, what it does, and every option with what counts where it is not given. */
export function helpOf(verb: Verb): string {
  const left = ([name, o]: [string, Option]) => `  --${name}${o.value ? ` ${o.value}` : ''}`,
    entries = Object.entries(verb.options),
    wide = Math.max(0, ...entries.map((e) => left(e).length)) + 2,
    lines = entries.map((e) => `${left(e).padEnd(wide)}${e[1].about}${e[1].usual ? ` Otherwise: ${e[1].usual}.` : ''}`);
  return `wraith ${verb.name} ${verb.usage}\n\n${verb.about}\n${lines.length ? `\n${lines.join('\n')}\n` : ''}`;
}
/** One line about work under way, on stderr. */
export function progress(text: string): void {
  if (process.stderr.isTTY) process.stderr.write(`\r\x1b[K${text}`);
}
export function progressEnd(): void {
  if (process.stderr.isTTY) process.stderr.write('\n');
}
