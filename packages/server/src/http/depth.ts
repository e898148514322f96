import { Problem } from './problem';

/** Deeper lists and objects than this no document has. */
const DEEPEST = 64;

/**
 * Looks through JSON before it is read: text that is nested millions of times takes the reader seconds.
 * @throws Problem 400 where it is nested too deeply.
 */
export function shallow(body: Buffer): void {
  let depth = 0,
    inText = false;
  for (let i = 0; i < body.length; i++) {
    const c = body[i]!;
    if (inText) {
      if (c === 0x5c) i++;
      else if (c === 0x22) inText = false;
    } else if (c === 0x22) inText = true;
    else if (c === 0x7b || c === 0x5b) {
      if (++depth > DEEPEST) throw new Problem(400, 'invalid', `The request is nested more than ${DEEPEST} times.`);
    } else if (c === 0x7d || c === 0x5d) depth--;
  }
}
