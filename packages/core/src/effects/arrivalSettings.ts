import { spreads } from '../matte/arrival';
import { param } from '../params/describe';

/** Where the settings of an arrival stand for one effect, and what they are to it. */
interface Usual {
  shape: (typeof spreads)[number];
  from: readonly [number, number];
  direction: number;
  extent: number;
  ragged: number;
  raggedSize: number;
}
/**
 * The settings of a front that goes over a body, for every effect that has one.
 * @param says help texts that are the effect's own; of the direction only what moves in it.
 * @example arrivalSettings({ shape: 'radius', from: [0, 0], direction: 90, extent: 420, ragged: 26, raggedSize: 30 }, { … })
 */
export const arrivalSettings = (usual: Usual, says: { progress: string; from: string; direction: string }) => ({
  progress: param.share({
    default: 0,
    title: 'Progress',
    step: 0.5,
    help: says.progress,
    group: 'Arrival',
  }),
  shape: param.choice({
    default: usual.shape,
    of: spreads,
    title: 'Spread',
    help: 'Outwards from a point, along a direction, from a point along the body (up the arms, not across gaps), by lines painted for frames, or where a matte is bright first.',
    group: 'Arrival',
  }),
  from: param.point({
    default: usual.from,
    title: 'Start point',
    help: says.from,
    group: 'Arrival',
    when: { param: 'shape', is: ['radius', 'direction', 'along the body'] },
  }),
  direction: param.angle({
    default: usual.direction,
    title: 'Front direction',
    help: `${says.direction}, degrees clockwise: 0 is right, 90 is down.`,
    group: 'Arrival',
    when: { param: 'shape', is: ['direction'] },
    curve: false,
  }),
  extent: param.length({
    default: usual.extent,
    title: 'Extent',
    range: [10, 4000],
    help: 'Distance that the front has gone at 100 %, px.',
    group: 'Arrival',
    curve: false,
  }),
  ragged: param.length({
    default: usual.ragged,
    title: 'Raggedness',
    help: 'Depth of the bites in the front, px.',
    range: [0, 300],
    group: 'Arrival',
    curve: false,
  }),
  raggedSize: param.length({
    default: usual.raggedSize,
    title: 'Bite size',
    help: 'Width of the bites, px.',
    range: [3, 400],
    group: 'Arrival',
    curve: false,
    rare: true,
  }),
});
