import { apply, smallShot, smallSources } from '../../test/smallShot';
import * as s from '../shot';
import { FrameRenderer } from './renderFrame';

test('a luma key of a shot takes what is brighter than its values, in percent of the display', async () => {
  const shot = apply(
      smallShot(),
      s.addMatte({ id: 'k5', name: 'Bright', source: 'luma', clip: 'c1' }),
      s.setSourceValues('k5', { low: 40, high: 100, softness: 0 }),
    ),
    renderer = new FrameRenderer(smallSources(), shot, 64 * 2 ** 20, undefined, false),
    [matte, light] = await Promise.all([
      renderer.renderMatte(shot, 'k5', 1003, 1, (p) => Array.from(p.data)),
      renderer.renderFrame({ shot, frame: 1003, plain: true }, (p) =>
        Array.from({ length: p.data.length / 4 }, (_, i) =>
          Math.sqrt(0.2126 * p.data[4 * i]! + 0.7152 * p.data[4 * i + 1]! + 0.0722 * p.data[4 * i + 2]!),
        ),
      ),
    ]);
  expect(matte.some((v) => v === 1) && matte.some((v) => v === 0)).toBe(true);
  matte.forEach((v, i) => {
    if (Math.abs(light[i]! - 0.4) > 0.01) expect([i, v]).toEqual([i, light[i]! > 0.4 ? 1 : 0]);
  });
});
