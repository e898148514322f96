import { param } from '../params/describe';

/** Settings of moving air that are the same for everything that flies in it. */
export const windDirectionParam = param.angle({
  default: -18,
  title: 'Wind direction',
  help: 'Direction to which the wind blows, degrees clockwise: 0 is right, 90 is down.',
  group: 'Air',
});

/** @param metres size of the largest eddies of a new row. */
export const eddyParam = (metres: number) =>
  param.number({
    default: metres,
    title: 'Eddy size',
    help: 'Size of the largest eddies.',
    unit: 'm',
    range: [0.02, 10],
    step: 0.02,
    group: 'Air',
    rare: true,
    curve: false,
  });

/** How long turbulence takes to have a particle: what has just left hardly swirls, what is old does. */
export const onsetParam = (frames: number) =>
  param.number({
    default: frames,
    title: 'Turbulence onset',
    help: 'Frames after birth over which the turbulence takes hold of a particle, so that swirls grow with age; 0 = at once.',
    unit: 'frames',
    range: [0, 400],
    step: 1,
    group: 'Air',
    rare: true,
    curve: false,
  });
