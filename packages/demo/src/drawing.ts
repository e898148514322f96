/** Numbered pictures with alpha that our own programs draw: the fox, and the stockroom. */
export interface Drawing {
  /** Folder below the media, such as "TW_030/performance". */
  name: string;
  width: number;
  height: number;
  frames: number;
  /** Number of the first file. */
  first: number;
  /** Few colours: kept as such, which is smaller. */
  kind?: 'flat';
  /** It has no alpha. */
  opaque?: boolean;
  /** After the last frame comes the first. */
  loops?: boolean;
  /** What the stockroom says of it; none where it is no element of it. `light` is laid on by screen. */
  shelf?: { name: string; about: string; light: boolean };
  /** Straight alpha, eight bits, four a pixel. */
  draw(frame: number): Uint8Array;
  truth?(): Record<string, unknown>;
}
