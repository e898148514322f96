import { apply, FIRST, smallShot, smallSources, WIDTH } from '../../test/smallShot';
import { newPicture, type Picture } from '../image';
import * as s from '../shot';
import { FrameRenderer } from './renderFrame';

/** Mattes that are made of what an effect draws, and groups that are laid on as one picture. */
const renderer = (shot: s.Shot) => new FrameRenderer(smallSources(), shot, 64 * 2 ** 20, undefined, false);
async function draw(shot: s.Shot, frame = FIRST + 3): Promise<Picture> {
  const one = renderer(shot),
    picture = await one.renderFrame({ shot, frame }, (p) => ({ ...newPicture(p.width, p.height), data: new Float32Array(p.data) }));
  expect(one.evaluator.arena.inUse).toBe(0);
  return picture;
}
const at = (p: Picture, x: number, y: number) => [...p.data.slice((y * WIDTH + x) * 4, (y * WIDTH + x) * 4 + 3)];
/** A field of colour over a part of the picture, by an outline that limits it. */
const box = (id: string, left: number, right: number): s.Edit[] => [
  s.addMatte({ id, name: id, source: null, clip: 'c1' }),
  s.addOutline(
    id,
    'add',
    [
      [left, 4],
      [right, 4],
      [right, 44],
      [left, 44],
    ],
    0,
  ),
  s.refineMatte(id, { blur: { radius: 0 } }),
];
const fill = (id: string, matte: string | null, more: Partial<s.Row> = {}, values = {}): s.Edit[] => [
  s.addRow({ id, effect: 'fill', lane: 'whole', subject: null, values: { through: 'everything', amount: 100, ...values } }),
  s.changeRow(id, { matte, ...more }),
];

describe('a matte of what an effect draws', () => {
  // A beam across the picture; it has light alone.
  const lit = (...more: s.Edit[]) =>
      apply(
        smallShot(),
        s.addTrack({ id: 't1', name: 'Place', kind: 'hand', clip: 'c1', at: [32, 24], frame: 0 }),
        s.addRow({ id: 'r1', effect: 'ember', lane: 'whole', subject: null, track: 't1', values: { reach: 8, place: [0, 0] } }),
        s.changeRow('r1', { start: FIRST, length: 6 }),
        s.addMatte({ id: 'k7', name: 'Of the ember', source: 'row', clip: 'c1' }),
        s.setSourceNamed('k7', 'r1'),
        ...more,
      ),
    worth = (shot: s.Shot, frame = FIRST + 3, factor: 1 | 2 = 1) =>
      renderer(shot).renderMatte(shot, 'k7', frame, factor, (p) => ({
        middle: p.data[Math.floor(p.height / 2) * p.width + Math.floor(p.width / 2)]!,
        corner: p.data[p.width + 1]!,
      }));

  test('is bright where it is and empty elsewhere, also in a draft and while the effect is muted, and nothing outside of its range', async () => {
    const { middle, corner } = await worth(lit());
    expect(middle).toBeGreaterThan(0.4);
    expect(corner).toBeLessThan(0.02);
    expect((await worth(lit(), FIRST + 3, 2)).middle).toBeGreaterThan(0.4);
    expect((await worth(lit(s.changeRow('r1', { muted: true })))).middle).toBe(middle);
    expect((await worth(lit(), FIRST + 8)).middle).toBe(0);
  });
  test('goes by cover or by light, times its gain, and is nothing without an effect', async () => {
    const cover = (await worth(lit(s.setSourceValues('k7', { of: 'cover' })))).middle,
      light = (await worth(lit(s.setSourceValues('k7', { of: 'light' })))).middle;
    expect(Math.max(cover, light)).toBeCloseTo((await worth(lit())).middle, 5);
    expect((await worth(lit(s.setSourceValues('k7', { of: 'light', gain: 10 })))).middle).toBeLessThanOrEqual(0.1 * 3);
    expect((await worth(lit(s.setSourceNamed('k7', null)))).middle).toBe(0);
  });
  test('limits another effect, and follows every change of the one that it is made of', async () => {
    const limited = (...more: s.Edit[]) =>
        draw(lit(s.changeRow('r1', { muted: true }), ...fill('r2', 'k7', {}, { colour: '#00ff00' }), ...more)),
      plain = await draw(smallShot()),
      [here, moved] = [await limited(), await limited(s.setValue('r1', 'place', [24, 0]))];
    const green = (p: Picture, x: number) => at(p, x, 24)[1]! - at(plain, x, 24)[1]!;
    expect(green(here, 32)).toBeGreaterThan(0.1);
    expect(green(moved, 32)).toBeLessThan(0.5 * green(here, 32));
    expect(Math.abs(green(here, 3))).toBeLessThan(0.05);
  });
  test('is not made of an effect that needs it, however far round, and that effect is not offered', () => {
    const shot = lit(...fill('r2', 'k7'), ...box('k8', 2, 20), s.addSource('k8', 'matte', 'add', 'k7'), ...fill('r3', 'k8'));
    expect(s.rowsFor(shot, 'k7').map((r) => r.id)).toEqual(['r1']);
    expect(() => s.readShot(JSON.parse(JSON.stringify(apply(shot, s.setSourceNamed('k7', 'r3')))))).toThrow(
      /made of itself, through other mattes or through an effect that needs it/,
    );
    // A subject's own matte is needed by whatever reads the subject.
    expect(s.rowsFor(shot, 'k1')).toEqual([]);
    expect(s.usesOf(shot, 'row', 'r1')).toEqual(['source of Of the ember']);
    expect(apply(shot, s.remove('row', 'r1')).mattes.k7!.sources).toEqual([]);
  });
});

describe('a group that is laid on as one picture', () => {
  /** Two fields that overlap between 20 and 30, at half the opacity of their group. */
  const both = (asOne: boolean, ...more: s.Edit[]) =>
    apply(
      smallShot(),
      ...box('k5', 10, 30),
      ...box('k6', 20, 40),
      ...fill('r1', 'k5', {}, { colour: '#ff0000' }),
      ...fill('r2', 'k6', {}, { colour: '#0000ff' }),
      s.groupRows(['r1', 'r2'], 'g1', 'Both'),
      s.changeGroup('g1', { opacity: 50, asOne }),
      ...more,
    );
  test('is half seen as a whole: what lies below within it does not shine through', async () => {
    const plain = await draw(smallShot()),
      [each, one] = [await draw(both(false)), await draw(both(true))],
      mean = (x: number, c: number, of: number) => 0.5 * at(plain, x, 24)[c]! + 0.5 * of;
    // Where one of them stands alone both ways agree.
    for (const c of [0, 1, 2]) expect(at(one, 14, 24)[c]).toBeCloseTo(at(each, 14, 24)[c]!, 5);
    // Where both do, the near one alone is seen of the group.
    expect(at(one, 25, 24)[0]).toBeCloseTo(mean(25, 0, 0), 4);
    expect(at(each, 25, 24)[0]!).toBeGreaterThan(at(one, 25, 24)[0]! + 0.1);
    expect(at(one, 55, 24)).toEqual(at(plain, 55, 24));
  });
  test('blends as a whole, within its matte, and its treatments are of the whole', async () => {
    const plain = await draw(smallShot()),
      multiplied = await draw(both(true, s.changeGroup('g1', { opacity: 100, blend: 'multiply', matte: 'k5' })));
    // Red times what is below: green and blue go, red stays; beside the matte nothing happens.
    expect(at(multiplied, 14, 24)[0]).toBeCloseTo(at(plain, 14, 24)[0]!, 4);
    expect(at(multiplied, 14, 24)[1]).toBeCloseTo(0, 4);
    expect(at(multiplied, 36, 24)).toEqual(at(plain, 36, 24));
    const graded = both(true, s.changeGroup('g1', { opacity: 100 }), s.addTreatment({ kind: 'group', id: 'g1' }, 'grade')),
      dark = apply(graded, s.setTreatmentValue({ kind: 'group', id: 'g1' }, graded.groups.g1!.treatments[0]!.id, 'exposure', -10));
    expect(at(await draw(dark), 14, 24)[0]!).toBeLessThan(0.05);
  });
  test('an effect that changes what is below it changes the group alone', async () => {
    const shot = both(
      true,
      s.changeGroup('g1', { opacity: 100 }),
      s.addRow({ id: 'r3', effect: 'grade', lane: 'whole', subject: null, values: { exposure: -10 } }),
      s.joinGroup('r3', 'g1'),
    );
    const plain = await draw(smallShot()),
      graded = await draw(shot);
    expect(at(graded, 14, 24)[0]!).toBeLessThan(0.05);
    expect(at(graded, 55, 24)).toEqual(at(plain, 55, 24));
  });
  test('up to one of its effects the nearer ones are left out, and rows that do not stand together make two pictures', async () => {
    const shot = both(true, s.changeGroup('g1', { opacity: 100 })),
      upTo = await renderer(shot).renderFrame({ shot, frame: FIRST + 3, upTo: 'r1' }, (p) =>
        at({ ...p, data: new Float32Array(p.data) } as Picture, 25, 24),
      );
    expect(upTo[0]).toBeGreaterThan(0.9);
    expect(upTo[2]).toBeLessThan(0.05);
    const between = apply(both(true), ...fill('r3', null, { opacity: 30 }, { colour: '#00ff00' }));
    expect(at(await draw(between), 25, 24)[1]!).toBeGreaterThan(0.2);
  });
});
