import type { z } from 'zod';

const KINDS: Readonly<Record<string, string>> = {
  string: 'text',
  number: 'a number',
  int: 'a whole number',
  boolean: 'true or false',
  array: 'a list',
  tuple: 'a list',
  object: 'an object',
  record: 'an object',
  date: 'a date',
  nan: 'a number',
  null: 'nothing',
  undefined: 'nothing',
};
const countOf = (origin: string, n: number | bigint): string =>
  origin === 'string' ? `${n} characters` : origin === 'array' || origin === 'set' ? `${n} entries` : String(n);

/**
 * What is wrong with a value, in the product's own words: the library's sentences are for programmers. Give it to `safeParse` as `error`;
 * messages that a schema has of its own come before it.
 */
export function wordsOf(issue: z.core.$ZodRawIssue): string {
  switch (issue.code) {
    case 'invalid_type':
      return issue.input === undefined ? 'is missing' : `wants ${KINDS[String(issue.expected)] ?? 'another kind of value'}`;
    case 'too_big':
      return `wants ${issue.inclusive === false ? 'less than' : 'at most'} ${countOf(issue.origin, issue.maximum)}`;
    case 'too_small':
      return `wants ${issue.inclusive === false ? 'more than' : 'at least'} ${countOf(issue.origin, issue.minimum)}`;
    case 'invalid_value':
      return issue.values.length <= 12 ? `wants one of ${issue.values.map(String).join(', ')}` : 'is none of the known ones';
    case 'invalid_format':
      return 'is not written as it should be';
    case 'not_multiple_of':
      return `wants a multiple of ${issue.divisor}`;
    case 'unrecognized_keys':
      return `has entries that are not known: ${issue.keys.slice(0, 5).join(', ').slice(0, 120)}`;
    case 'invalid_key':
    case 'invalid_element':
      return 'holds an entry that is not allowed';
    case 'invalid_union':
      return 'is none of the forms that are allowed';
    default:
      return 'is not allowed';
  }
}

/** One sentence about the first thing that is wrong: `rows.r1.opacity: wants at most 100`. */
export function sentenceOf(error: z.core.$ZodError): { field: string; text: string } {
  const issue = error.issues[0]!,
    field = issue.path.map(String).join('.').slice(0, 200);
  return { field, text: field ? `${field}: ${issue.message}` : `It ${issue.message}` };
}
