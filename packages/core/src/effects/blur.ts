import { blur as blurPicture } from '../image/blur';
import { blurDirection, blurSpin, blurZoom } from '../image/blurMoved';
import { param } from '../params/describe';
import { effect } from './describe';
import { grainDeviation } from './grainOn';
import { recipes } from './recipes/blur';
import { softnessOf } from './sharpness';

/** A blur of less than this cannot be seen, pixels. */
const LEAST = 0.35;

/** Softens the picture below: evenly, along a direction, towards a point or around it. */
export const blur = effect({
  type: 'blur',
  version: 1,
  title: 'Blur',
  summary: 'Softens the picture below: evenly, along a direction, towards a point, around it, or as much as the plate is soft.',
  recipes,
  lanes: ['whole', 'foreground', 'front', 'on', 'behind', 'background'],
  origin: 'middle',
  params: {
    kind: param.choice({
      default: 'even',
      of: ['even', 'along', 'zoom', 'spin', 'as soft as the plate'],
      title: 'Kind',
      help: 'Even, along a direction, towards a point, around it, or by as much as the edges of the performance are softer than drawn ones; as a treatment of an effect that matches its edges to the plate.',
    }),
    radius: param.length({
      default: 8,
      title: 'Radius',
      range: [0, 800],
      step: 0.5,
      help: 'Radius in px, 2 × standard deviation.',
      when: { param: 'kind', is: ['even'] },
    }),
    length: param.length({
      default: 24,
      title: 'Length',
      help: 'Length of the blur along its direction, px.',
      range: [0, 800],
      when: { param: 'kind', is: ['along'] },
    }),
    direction: param.angle({
      default: 0,
      title: 'Direction',
      help: 'Direction of the blur, degrees clockwise.',
      when: { param: 'kind', is: ['along'] },
    }),
    zoom: param.share({
      default: 8,
      title: 'Zoom',
      range: [0, 100],
      step: 0.5,
      help: 'Spread towards the place and away from it, % of the distance.',
      when: { param: 'kind', is: ['zoom'] },
    }),
    turn: param.angle({
      default: 6,
      title: 'Turn',
      help: 'Angle of the blur around the place.',
      range: [-90, 90],
      step: 0.5,
      when: { param: 'kind', is: ['spin'] },
    }),
    place: param.point({
      default: [0, 0],
      title: 'Place',
      help: 'Centre of the blur, px from the mount, or from the middle of the picture without one.',
      when: { param: 'kind', is: ['zoom', 'spin'] },
    }),
  },
  inputs: {
    below: { kind: 'below', title: 'Picture below' },
    mount: { kind: 'mount', optional: true, title: 'Mount' },
    plate: { kind: 'plate', optional: true, title: 'Performance' },
  },
  without: (v) => (v.kind === 'as soft as the plate' ? ['mount'] : ['plate']),
  idle: (v) =>
    (v.kind === 'even' && v.radius <= 0) ||
    (v.kind === 'along' && v.length <= 0) ||
    (v.kind === 'zoom' && v.zoom <= 0) ||
    (v.kind === 'spin' && v.turn === 0),
  render({ pictures }, v, { below, mount, plate }) {
    const [cx, cy] = mount.toPicture(v.place),
      grown = mount.scaleAt(v.place);
    switch (v.kind) {
      case 'even':
        return { changed: blurPicture(below, (v.radius * grown) / 2, pictures) };
      case 'along':
        return { changed: blurDirection(below, v.length * grown, v.direction + mount.turnAt(v.place), pictures) };
      case 'zoom':
        return { changed: blurZoom(below, v.zoom, cx, cy, pictures) };
      case 'spin':
        return { changed: blurSpin(below, v.turn, cx, cy, pictures) };
      case 'as soft as the plate': {
        const sigma = plate ? softnessOf(plate, grainDeviation(plate)) : 0;
        return sigma < LEAST ? {} : { changed: blurPicture(below, sigma, pictures) };
      }
    }
  },
  handles: [{ shape: 'point', moves: 'place' }],
});
