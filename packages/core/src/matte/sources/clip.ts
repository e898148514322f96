import { matteSource } from './describe';

/** A matte that a clip brings along. */
export const clip = matteSource({
  kind: 'clip',
  title: "A clip's own matte",
  called: 'Clip matte',
  carriesOwn: true,
  summary: "The clip's alpha, or its brightness where it has none.",
  params: {},
  inputs: ['plate'],
  refined: { blur: 1.5, despeckle: 0, fillHoles: 0 },
  make({ pictures, alpha }, _, { plate }) {
    const { data, width, height } = plate,
      out = pictures.takePlane(width, height),
      o = out.data;
    if (alpha) for (let p = 0; p < o.length; p++) o[p] = data[4 * p + 3]!;
    // Luma weights of Rec. 709; the square root stands for the display's curve.
    else
      for (let p = 0; p < o.length; p++)
        o[p] = Math.sqrt(Math.max(0, 0.2126 * data[4 * p]! + 0.7152 * data[4 * p + 1]! + 0.0722 * data[4 * p + 2]!));
    return out;
  },
});
