/** A frame on its way: a header of five little-endian 32-bit numbers (magic "WRF1", width, height, channels, bits), then the rows of its codes. */
const MAGIC = 0x31465257,
  HEADER = 20;

export interface FrameShape {
  width: number;
  height: number;
  channels: number;
  bits: number;
}
export interface SentFrame {
  width: number;
  height: number;
  channels: 1 | 3 | 4;
  bits: 8 | 16 | 32;
  data: Uint8Array | Uint16Array | Float32Array;
}

/** The header of a frame. */
export function frameHeader({ width, height, channels, bits }: FrameShape): Uint8Array {
  const header = new DataView(new ArrayBuffer(HEADER));
  [MAGIC, width, height, channels, bits].forEach((value, i) => header.setUint32(4 * i, value, true));
  return new Uint8Array(header.buffer);
}

/** A frame from what came; its codes are a view of it. @throws Error where it is no whole frame. */
export function readFrame(buffer: ArrayBuffer): SentFrame {
  const view = new DataView(buffer),
    number = (i: number) => view.getUint32(4 * i, true);
  if (buffer.byteLength < HEADER || number(0) !== MAGIC) throw new Error('the server sent no frame.');
  const [width, height, channels, bits] = [number(1), number(2), number(3), number(4)];
  if (![1, 3, 4].includes(channels) || ![8, 16, 32].includes(bits) || buffer.byteLength !== HEADER + (width * height * channels * bits) / 8)
    throw new Error('the server sent a broken frame.');
  return {
    width,
    height,
    channels: channels as 1 | 3 | 4,
    bits: bits as 8 | 16 | 32,
    data: bits === 32 ? new Float32Array(buffer, HEADER) : bits === 16 ? new Uint16Array(buffer, HEADER) : new Uint8Array(buffer, HEADER),
  };
}
