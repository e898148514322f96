import { matteSource } from './describe';

/** Nothing of its own: drawn outlines alone. */
export const outlines = matteSource({
  kind: 'outlines',
  title: 'Outlines drawn by hand',
  called: 'Outline',
  summary: 'Drawn outlines alone.',
  params: {},
  inputs: [],
  refined: { blur: 1.5, despeckle: 0, fillHoles: 0 },
  make: () => null,
});
