import svgpath from 'svgpath';
import { corner, isStraight, type Vertex } from './vertex';

/** Outlines as paths of SVG 2 (W3C), in pixels of the picture, and back. */

const number = (v: number): string => String(Math.round(v * 1000) / 1000);
const pair = (x: number, y: number): string => `${number(x)} ${number(y)}`;

/** A closed outline as the `d` of an SVG path. @example pathOfOutline([corner(0, 0), corner(9, 0), corner(9, 9)]) // 'M0 0 L9 0 L9 9 L0 0 Z' */
export function pathOfOutline(vertices: readonly Vertex[]): string {
  const steps = vertices.map((a, i) => {
    const b = vertices[(i + 1) % vertices.length]!;
    return isStraight(a, b)
      ? `L${pair(b.x, b.y)}`
      : `C${pair(a.x + a.out[0], a.y + a.out[1])} ${pair(b.x + b.in[0], b.y + b.in[1])} ${pair(b.x, b.y)}`;
  });
  return vertices.length ? [`M${pair(vertices[0]!.x, vertices[0]!.y)}`, ...steps, 'Z'].join(' ') : '';
}
const escaped = (text: string): string => text.replace(/[&<>"]/g, (c) => `&#${c.charCodeAt(0)};`);
/** An SVG picture of outlines: one path each, with its name and how it counts (`data-mode`). */
export function svgOfOutlines(
  width: number,
  height: number,
  outlines: readonly { name: string; mode: string; vertices: readonly Vertex[] }[],
): string {
  const paths = outlines.map((o) => `  <path data-name="${escaped(o.name)}" data-mode="${o.mode}" d="${pathOfOutline(o.vertices)}"/>`);
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">\n${paths.join('\n')}\n</svg>\n`;
}

/** Points nearer than this are one, pixels. */
const SAME = 1e-3;
/** Outlines of a path: each of its parts, closed, where it has three points at the least. */
function outlinesOfPath(d: string): Vertex[][] {
  const path = svgpath(d).abs().unshort().unarc();
  if ((path as unknown as { err: string }).err) throw new Error(`The path "${d.slice(0, 40)}" cannot be read.`);
  const out: Vertex[][] = [];
  let now: Vertex[] = [];
  const last = () => now.at(-1)!,
    lineTo = (x: number, y: number) => {
      now.push(corner(x, y));
    },
    curveTo = (x1: number, y1: number, x2: number, y2: number, x: number, y: number) => {
      const from = last();
      from.out = [x1 - from.x, y1 - from.y];
      now.push({ ...corner(x, y), in: [x2 - x, y2 - y] });
    },
    close = () => {
      const [first] = now;
      // A last point on the first one is the first one.
      if (first && now.length > 1 && Math.abs(last().x - first.x) < SAME && Math.abs(last().y - first.y) < SAME) first.in = now.pop()!.in;
      if (now.length >= 3) out.push(now);
      now = [];
    };
  path.iterate((segment) => {
    const [kind, ...v] = segment as unknown as [string, ...number[]];
    if (kind === 'M') {
      close();
      lineTo(v[0]!, v[1]!);
    } else if (!now.length) return;
    else if (kind === 'L') lineTo(v[0]!, v[1]!);
    else if (kind === 'H') lineTo(v[0]!, last().y);
    else if (kind === 'V') lineTo(last().x, v[0]!);
    else if (kind === 'C') curveTo(v[0]!, v[1]!, v[2]!, v[3]!, v[4]!, v[5]!);
    else if (kind === 'Q') {
      // A quadratic curve as the cubic one that it is.
      const { x, y } = last();
      curveTo(
        x + (2 / 3) * (v[0]! - x),
        y + (2 / 3) * (v[1]! - y),
        v[2]! + (2 / 3) * (v[0]! - v[2]!),
        v[3]! + (2 / 3) * (v[1]! - v[3]!),
        v[2]!,
        v[3]!,
      );
    } else if (kind === 'Z') {
      const { x, y } = now[0]!;
      close();
      now = [corner(x, y)];
    }
  });
  close();
  return out;
}
/**
 * The outlines of an SVG file: every path of it, as it is written; transforms, groups that move what they hold, and other shapes are not read.
 * @throws an Error for people where there is no path, or one that cannot be read.
 */
export function outlinesOfSvg(text: string, name: string): Vertex[][] {
  const paths = [...text.matchAll(/<path\b[^>]*?\sd\s*=\s*(?:"([^"]*)"|'([^']*)')/g)].map((m) => m[1] ?? m[2]!);
  if (/\btransform\s*=/.test(text))
    throw new Error(
      `${name} moves its paths by a transform, which is not read here. Save it with transforms applied. Nothing was changed.`,
    );
  const out = paths.flatMap(outlinesOfPath);
  if (!out.length) throw new Error(`${name} has no path of three points or more. Nothing was changed.`);
  return out;
}
