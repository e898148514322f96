import { momentsAt, type Playing } from './moments';

const playing = (more: Partial<Playing> = {}): Playing => ({
  first: 10,
  last: 19,
  backwards: false,
  plays: 'once',
  overlap: 0,
  between: 'nearest',
  ...more,
});
const frames = (ways: number[], more: Partial<Playing> = {}) =>
  ways.map((way) =>
    momentsAt(way, playing(more))
      .map((m) => (m.share === 1 ? m.frame : `${m.frame}:${Number(m.share.toFixed(3))}`))
      .join(),
  );

describe('which frames show', () => {
  test('once: nothing before and after; or it stays', () => {
    expect(frames([-1, 0, 4, 9, 10])).toEqual(['', '10', '14', '19', '']);
    expect(frames([-3, 0, 9, 40], { plays: 'once, then stays' })).toEqual(['10', '10', '19', '19']);
  });
  test('loops and ways there and back', () => {
    expect(frames([-1, 9, 10, 23], { plays: 'loops' })).toEqual(['19', '19', '10', '13']);
    expect(frames([8, 9, 10, 17, 18, 19], { plays: 'there and back' })).toEqual(['18', '19', '18', '11', '10', '11']);
    expect(frames([0, 7], { plays: 'there and back', first: 10, last: 10 })).toEqual(['10', '10']);
  });
  test('backwards', () => {
    expect(frames([0, 3, 9, 10], { backwards: true })).toEqual(['19', '16', '10', '']);
    expect(frames([11], { backwards: true, plays: 'loops' })).toEqual(['18']);
  });
  test('between two frames: the nearer one, or both in proportion; a loop mixes its end with its beginning', () => {
    expect(frames([0.4, 0.6, 9.4])).toEqual(['10', '11', '19']);
    expect(frames([0.25, 9.5], { between: 'blended' })).toEqual(['10:0.75,11:0.25', '19']);
    expect(frames([9.5], { between: 'blended', plays: 'loops' })).toEqual(['19:0.5,10:0.5']);
  });
  test('a crossfaded loop begins whole, then fades its end into its beginning; shares always sum to 1', () => {
    const more = { plays: 'loops, crossfaded', overlap: 4 } as const;
    // Ten frames that overlap by four come round every six.
    expect(frames([0, 3, 5, 6, 7, 9, 10], more)).toEqual(['10', '13', '15', '10:0.2,16:0.8', '11:0.4,17:0.6', '13:0.8,19:0.2', '14']);
    for (let way = 0; way < 40; way += 0.3) {
      const sum = momentsAt(way, playing({ ...more, between: 'blended' })).reduce((n, m) => n + m.share, 0);
      expect(sum).toBeCloseTo(1, 9);
    }
    // An overlap of more than half of it is held at half.
    expect(frames([0, 5], { plays: 'loops, crossfaded', overlap: 50 })).toEqual(['10', '10:0.167,15:0.833']);
  });
});
