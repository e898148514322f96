import type { MadePlate } from '@wraithos/core/shot';

/** How TW_020's clean plate came to be. Written by writePlate.ts. */
export const PLATE_020: MadePlate = {
  clip: 'c1',
  camera: 'measured',
  flicker: true,
  grain: false,
  first: 0,
  last: 38,
  matte: null,
  doubt: null,
  frames: 39,
  drift: 8.46,
  flickered: 1.2,
  unsure: 0.0779,
  areas: [
    {
      x: 0,
      y: 560,
      width: 512,
      height: 160,
      share: 0.04318793402777778,
    },
    {
      x: 48,
      y: 304,
      width: 1232,
      height: 240,
      share: 0.029715711805555555,
    },
    {
      x: 0,
      y: 256,
      width: 32,
      height: 320,
      share: 0.0007497829861111111,
    },
    {
      x: 992,
      y: 256,
      width: 32,
      height: 48,
      share: 0.0003949652777777778,
    },
    {
      x: 384,
      y: 448,
      width: 48,
      height: 80,
      share: 0.00036024305555555554,
    },
    {
      x: 896,
      y: 544,
      width: 16,
      height: 16,
      share: 0.000028211805555555554,
    },
  ],
};
