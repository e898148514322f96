import { addRow, applyEdit, changeClip, changeRow, newShot, plainReading, setValue, type Edit, type Shot } from '@wraithos/core/shot';
import { pictureKey } from './frameCache';

const apply = (shot: Shot, ...edits: Edit[]) => edits.reduce((now, edit) => applyEdit(now, edit).shot, shot);
const shot = (): Shot => {
  const made = newShot({ code: 'HT_010', width: 64, height: 36, rate: { num: 24, den: 1 }, frames: 10 });
  const clip = {
    id: 'c1',
    name: 'take',
    role: 'performance' as const,
    media: { path: 'take' },
    width: 64,
    height: 36,
    frames: 10,
    rate: { num: 24, den: 1 },
    alpha: false,
    bits: 8 as const,
    transfer: 'srgb' as const,
    cue: null,
    ...plainReading,
    start: 1001,
    continues: null,
    made: null,
    placed: { values: {}, curves: {} },
  };
  return apply({ ...made, clips: { c1: clip } }, addRow({ id: 'r1', effect: 'glow', lane: 'whole', subject: null }));
};
const whole = { plain: false, matte: null },
  plain = { plain: true, matte: null };

test('a new name draws no picture anew; a value or a placement does', () => {
  const s = shot();
  expect(pictureKey(apply(s, changeRow('r1', { name: 'Lamp' })), whole)).toBe(pictureKey(s, whole));
  expect(pictureKey(apply(s, setValue('r1', 'reach', 5)), whole)).not.toBe(pictureKey(s, whole));
  expect(pictureKey(apply(s, changeClip('c1', { start: 1003 })), whole)).not.toBe(pictureKey(s, whole));
});

test('the base alone depends on clips alone', () => {
  const s = shot();
  expect(pictureKey(apply(s, setValue('r1', 'reach', 5)), plain)).toBe(pictureKey(s, plain));
  expect(pictureKey(apply(s, changeClip('c1', { start: 1003 })), plain)).not.toBe(pictureKey(s, plain));
  expect(pictureKey(s, plain)).not.toBe(pictureKey(s, whole));
});
