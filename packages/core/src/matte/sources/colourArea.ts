import { param } from '../../params/describe';
import { colourArea as areaOf } from '../colourArea';
import { matteSource } from './describe';

/** The flat colour of a drawing. */
export const colourArea = matteSource({
  kind: 'colour area',
  title: 'A flat colour of a drawing',
  called: 'Colour',
  summary: 'The areas of one flat colour of a drawing.',
  params: {
    colour: param.colour({ default: '#ffffff', encoded: true, picked: 'connected', title: 'Colour' }),
    similarity: param.number({
      default: 6,
      title: 'Tolerance',
      unit: '%',
      range: [0, 100],
      step: 0.5,
      curve: false,
      help: 'Largest difference from the colour, % of the display range.',
    }),
    takes: param.choice({
      default: 'all of it',
      of: ['all of it', 'what is connected'],
      title: 'Takes',
      help: 'Everything of the colour, or only what is connected to one place.',
    }),
    connected: param.point({
      default: [0, 0],
      title: 'Connected to',
      curve: false,
      help: 'A place inside the area, px from the top left corner.',
      when: { param: 'takes', is: ['what is connected'] },
    }),
    lines: param.choice({
      default: 'dropped',
      of: ['dropped', 'kept'],
      title: 'Line art',
      help: 'Kept takes the drawn lines along with the area that they surround.',
    }),
    lineWidth: param.length({
      default: 8,
      title: 'Line width',
      range: [1, 60],
      step: 1,
      curve: false,
      when: { param: 'lines', is: ['kept'] },
      help: 'Width in px of the widest line that is taken.',
    }),
    lineShade: param.share({
      default: 35,
      title: 'Lines up to',
      curve: false,
      when: { param: 'lines', is: ['kept'] },
      help: 'Brightness, % of the display range, up to which a pixel is line.',
    }),
  },
  inputs: ['plate'],
  // Drawn edges are sharp already.
  refined: { blur: 0, despeckle: 0, fillHoles: 0 },
  make: ({ pictures }, v, { plate }) =>
    areaOf(
      plate,
      {
        colour: v.colour,
        similarity: v.similarity,
        connected: v.takes === 'what is connected' ? v.connected : null,
        lines: v.lines === 'kept' ? { width: v.lineWidth, shade: v.lineShade } : null,
      },
      pictures,
    ),
});
