import { param } from '../../params/describe';
import { keyBacking } from '../backingKey';
import { chromaMatte } from '../keys';
import { spillReplacements } from '../spill';
import { matteSource } from './describe';

const byExcess = { param: 'keys', is: ['core and edge'] },
  byDistance = { param: 'keys', is: ['distance from the backing'] };
/** A key against a backing of one strong colour. */
export const chroma = matteSource({
  kind: 'chroma',
  title: 'Chroma key of a backing',
  called: 'Key',
  summary: 'Keys out a green, blue or red backing; everything in front of it stays.',
  params: {
    backing: param.colour({
      default: '#00b140',
      encoded: true,
      picked: true,
      title: 'Backing',
      help: 'Colour of the backing where it is neither brightest nor darkest.',
    }),
    keys: param.choice({
      default: 'core and edge',
      of: ['core and edge', 'distance from the backing'],
      title: 'Keys by',
      help: 'Core and edge takes hair and blurred motion as they are mixed with the backing. Distance compares colours alone, and suits flat drawings.',
    }),
    light: param.choice({
      default: 'uneven',
      of: ['uneven', 'even'],
      title: 'Its light',
      when: byExcess,
      help: 'Uneven follows the backing where it is brighter or darker; even takes one colour everywhere.',
    }),
    outside: param.share({
      default: 6,
      title: 'Backing up to',
      curve: false,
      when: byExcess,
      help: 'Coverage up to this, %, is backing: raise it until creases and shadows on the backing are gone.',
    }),
    core: param.share({
      default: 80,
      title: 'Core from',
      curve: false,
      when: byExcess,
      help: 'Coverage from this on, %, is solid: lower it until holes and reflections inside the subject are gone.',
    }),
    edge: param.length({
      default: 10,
      title: 'Edge',
      range: [0, 60],
      step: 1,
      curve: false,
      when: byExcess,
      help: 'Distance to both sides of the edge, px, in which each pixel is told from the colours around it; 0 goes by the two values above alone.',
    }),
    tolerance: param.number({
      default: 30,
      title: 'Tolerance',
      unit: '%',
      range: [0, 200],
      step: 1,
      curve: false,
      when: byDistance,
      help: 'Difference in colour up to which a pixel is backing, % of the strength of its colour.',
    }),
    softness: param.number({
      default: 45,
      title: 'Softness',
      unit: '%',
      range: [0, 200],
      step: 1,
      curve: false,
      when: byDistance,
      help: 'Width of the ramp from backing to subject, same unit.',
    }),
    spill: param.share({
      default: 100,
      title: 'Spill',
      curve: false,
      help: 'Share of the light of the backing that is taken out of the subject where it is laid elsewhere.',
    }),
    replaced: param.choice({
      default: 'nothing',
      of: spillReplacements,
      title: 'Replaced by',
      help: 'Nothing darkens what the backing lit; grey keeps its brightness; a colour lights it as the new place would.',
    }),
    replacement: param.colour({
      default: '#808080',
      title: 'Colour',
      when: { param: 'replaced', is: ['a colour'] },
      help: 'Colour of the light that comes in place of the spill, at the same brightness.',
    }),
  },
  inputs: ['plate'],
  refined: { blur: 0, despeckle: 200, fillHoles: 2000 },
  make: ({ pictures }, v, { plate }) =>
    v.keys === 'core and edge'
      ? keyBacking(plate, v.backing, { outside: v.outside, core: v.core, edge: v.edge, even: v.light === 'even' }, pictures)
      : chromaMatte(plate, v.backing, v, pictures),
});
