import { effects, laneTitles, type Effect, type Param } from '../src/effects';
import { ownRecipesFor } from '../src/recipes';

function usual(p: Param<unknown>): string {
  return Array.isArray(p.default) ? (p.default as number[]).join(', ') : String(p.default);
}
function row(e: Effect, name: string, p: Param<unknown>): string {
  const range = p.of ? p.of.join(', ') : p.range ? `${p.range[0]} to ${p.range[1]}` : p.kind === 'colour' ? 'colour' : '',
    when = p.when ? ` Shown where ${e.params[p.when.param]!.title} is ${p.when.is.join(' or ')}.` : '';
  return `| ${p.title} | \`${name}\` | ${p.unit ?? ''} | ${range} | ${usual(p)} | ${p.curve ? 'yes' : ''} | ${(p.help ?? '') + when} |`;
}
function section(e: Effect): string {
  const recipes = ownRecipesFor(e.type).map((r) => r.name),
    inputs = Object.values(e.inputs).map((i) => i.title.toLowerCase() + (i.optional ? ' (if there is one)' : ''));
  return [
    `## ${e.title}`,
    '',
    `![${e.title} as it comes, at dusk and in daylight](effects/${e.type}.jpg)`,
    '',
    `${e.summary} Stands in: ${e.lanes.map((l) => laneTitles[l]).join(', ')}. Reads: ${inputs.join(', ')}.${e.history ? ' Has a past: a frame is reached by way of those before it.' : ''}`,
    '',
    '| parameter | name | unit | range | usual | over time | |',
    '|---|---|---|---|---|---|---|',
    ...Object.entries(e.params).map(([name, p]) => row(e, name, p)),
    ...(recipes.length ? ['', `Recipes that come with it: ${recipes.join(', ')}.`] : []),
    ...(e.checks?.length ? ['', `Checks: ${e.checks.map((c) => `\`${c.id}\``).join(', ')}.`] : []),
  ].join('\n');
}

/** The text of docs/effects.md. */
export function effectsDocument(): string {
  return `# Effects\n\nMade by \`npm run docs:effects\` from the effects' own descriptions; a test holds it to them; the pictures are drawn by \`npm run docs:pictures\`. Lengths are whole-shot pixels, angles degrees clockwise, 0 to the right.\n\n${Object.values(effects).map(section).join('\n\n')}\n`;
}
