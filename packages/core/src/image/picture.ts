/** Interleaved RGBA, float32, premultiplied alpha, linear light with Rec.709 primaries. Pixel centres at +0.5. */
export interface Picture {
  readonly kind: 'picture';
  readonly width: number;
  readonly height: number;
  readonly data: Float32Array<ArrayBufferLike>;
  readonly address?: number;
}
/** One float32 channel: a matte (0..1), a field, or luma. */
export interface Plane {
  readonly kind: 'plane';
  readonly width: number;
  readonly height: number;
  readonly data: Float32Array<ArrayBufferLike>;
  readonly address?: number;
}
export type Raster = Picture | Plane;
/** How deep codes are; 32 are floats. */
export type Bits = 8 | 16 | 32;
/** Source codes of one frame as the decoder gave them: 8 or 16 bit, or floats (32), RGB or RGBA, rows from the top. */
export interface Codes {
  readonly width: number;
  readonly height: number;
  readonly channels: 1 | 3 | 4;
  readonly bits: Bits;
  readonly data: Uint8Array | Uint16Array | Float32Array;
}

export const channelsOf = (raster: Raster): 1 | 4 => (raster.kind === 'picture' ? 4 : 1);
export const bytesOf = (raster: Raster): number => raster.width * raster.height * channelsOf(raster) * 4;

/** A picture outside any arena, filled with zeros: for tests and for results that outlive a frame. */
export const newPicture = (width: number, height: number): Picture => ({
  kind: 'picture',
  width,
  height,
  data: new Float32Array(width * height * 4),
});
/** A plane outside any arena, filled with zeros. */
export const newPlane = (width: number, height: number): Plane => ({
  kind: 'plane',
  width,
  height,
  data: new Float32Array(width * height),
});
/** A copy outside any arena. */
export const detach = <R extends Raster>(raster: R): R =>
  ({ kind: raster.kind, width: raster.width, height: raster.height, data: new Float32Array(raster.data) }) as R;
