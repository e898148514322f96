import { resolve } from 'node:path';
import { parseArgs, type ParseArgsConfig } from 'node:util';

/** Bad use: exit 2. Anything else that goes wrong: exit 1. */
export class UsageError extends Error {}

export interface Verb {
  name: string;
  usage: string;
  about: string;
  options: NonNullable<ParseArgsConfig['options']>;
  positionals: [number, number];
  run(given: Given): Promise<unknown>;
}
export interface Given {
  values: Record<string, string | boolean | undefined>;
  positionals: string[];
}

/** Paths are relative to where the person stands, also when npm changed the folder. */
export const pathOf = (text: string): string => resolve(process.env.INIT_CWD ?? process.cwd(), text);

export function parse(verb: Verb, args: string[]): Given {
  let parsed;
  try {
    parsed = parseArgs({ args, options: { ...verb.options, help: { type: 'boolean', short: 'h' } }, allowPositionals: true, strict: true });
  } catch (error) {
    throw new UsageError(`${verb.name}: ${(error as Error).message.split('. ')[0]}. See wraith ${verb.name} --help.`);
  }
  if (!parsed.values.help && (parsed.positionals.length < verb.positionals[0] || parsed.positionals.length > verb.positionals[1]))
    throw new UsageError(`Usage: wraith ${verb.name} ${verb.usage}`);
  return { values: parsed.values as Given['values'], positionals: parsed.positionals };
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
export const notBuilt = (what: string): never => {
  throw new UsageError(`${what} is not built yet.`);
};
/** One line about work under way, on stderr. */
export function progress(text: string): void {
  if (process.stderr.isTTY) process.stderr.write(`\r\x1b[K${text}`);
}
export function progressEnd(): void {
  if (process.stderr.isTTY) process.stderr.write('\n');
}
