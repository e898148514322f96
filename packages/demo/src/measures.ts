/** Numbers that documents and the generator share. */
export const WIDTH = 1280,
  HEIGHT = 720;
/** How tall Ilse is, in metres: from the planks to the top of her cap. */
export const TALL = 1.76;
/** TW_010: its length, and how tall she is seen where she comes apart (pixels). */
export const TW_010 = { frames: 96, pixels: 427 };
