import { corner, type Vertex } from './vertex';
import { outlinesOfSvg, pathOfOutline, svgOfOutlines } from './svgPaths';

const round: Vertex[] = [
  { ...corner(10, 5), in: [-3, 0], out: [3, 0] },
  { ...corner(15, 10.5), in: [0, -3], out: [0, 3] },
  { ...corner(10, 15), in: [3, 0], out: [-3, 0] },
  corner(4.25, 10),
];
test('outlines that are written as SVG are read back as they were', () => {
  const square = [corner(0, 0), corner(20, 0), corner(20, 20), corner(0, 20)],
    text = svgOfOutlines(64, 48, [
      { name: 'Arm & "lamp"', mode: 'add', vertices: round },
      { name: 'Hole', mode: 'take away', vertices: square },
    ]);
  expect(text).toContain('viewBox="0 0 64 48"');
  expect(text).toContain('data-name="Arm &#38; &#34;lamp&#34;" data-mode="add"');
  expect(outlinesOfSvg(text, 'x.svg')).toEqual([round, square]);
  expect(pathOfOutline([corner(0, 0), corner(9, 0), corner(9, 9)])).toBe('M0 0 L9 0 L9 9 L0 0 Z');
});
test('relative, short and quadratic steps, arcs and several parts of one path are read', () => {
  const read = (d: string) => outlinesOfSvg(`<svg><path fill="red" d='${d}'/></svg>`, 'x.svg');
  expect(read('m10 10h20v20h-20z m40 0l5 5l5 -5z').map((o) => o.map((v) => [v.x, v.y]))).toEqual([
    [
      [10, 10],
      [30, 10],
      [30, 30],
      [10, 30],
    ],
    [
      [50, 10],
      [55, 15],
      [60, 10],
    ],
  ]);
  const [quadratic] = read('M0 0 Q 6 6 12 0 L 6 -9 Z');
  expect(quadratic![0]).toMatchObject({ out: [4, 4] });
  expect(quadratic![1]).toMatchObject({ x: 12, y: 0, in: [-4, 4] });
  const [arc] = read('M10 0 A10 10 0 0 1 -10 0 A10 10 0 0 1 10 0 Z');
  for (const v of arc!) expect(Math.hypot(v.x, v.y)).toBeCloseTo(10, 3);
});
test('a file without a path, with a broken one or with a transform says what is wrong', () => {
  expect(() => outlinesOfSvg('<svg><rect/></svg>', 'box.svg')).toThrow('box.svg has no path of three points or more. Nothing was changed.');
  expect(() => outlinesOfSvg('<svg><path d="M0 0 L1"/></svg>', 'a.svg')).toThrow(/cannot be read|no path/);
  expect(() => outlinesOfSvg('<svg><path transform="scale(2)" d="M0 0 L9 0 L9 9Z"/></svg>', 'b.svg')).toThrow(/transforms applied/);
});
