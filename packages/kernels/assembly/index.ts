/**
 * Pixel kernels. Every pointer is a byte offset in the one linear memory, 16-byte aligned. A picture is interleaved RGBA,
 * float32, premultiplied, so that one pixel is one 128-bit vector; a plane is one float32 a pixel. Rows lie one after another
 * without gaps. `y0` and `y1` are a band of rows of the result: bands can be worked on apart, in any order, with the same bits.
 */
export { over, copy } from './over';
export { blurRows, blurColumns, halve, double } from './blur';
export { growOnce, rootDifference } from './matte';
export { mixByMask, addDifference, screenLight } from './mix';
export { windowProducts } from './correlate';
