import { matteSource } from './describe';

/** Another matte of the shot, refined. */
export const matte = matteSource({
  kind: 'matte',
  title: 'Another matte',
  called: 'Matte',
  summary: 'Another matte as it is refined, so that one is drawn once and used in many.',
  params: {},
  names: 'matte',
  inputs: ['matte'],
  refined: { blur: 0, despeckle: 0, fillHoles: 0 },
  make({ pictures }, _, { matte: other }) {
    const out = pictures.takePlane(other.width, other.height);
    out.data.set(other.data);
    return out;
  },
});
