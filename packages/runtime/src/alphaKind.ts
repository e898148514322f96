import type { Codes } from '@wraithos/core/image';

/** Pixels that are partly covered, of a frame; fewer tell nothing. */
const ENOUGH = 200;
/** How bright solid pixels must be on the mean for dark edges to mean anything, 0..1. */
const BRIGHT = 0.15;

/**
 * Tells from the codes of some frames whether colours were multiplied with their alpha: a colour that is larger than its alpha never was; where none
 * is, although the body is bright, all of them were. Dark bodies tell nothing: then it is straight, as most files are.
 */
export class AlphaKind {
  private partly = 0;
  private above = 0;
  private solid = 0;
  private brightness = 0;

  look({ channels, bits, data }: Codes): void {
    if (channels !== 4 || bits === 32) return;
    const top = bits === 8 ? 255 : 65535,
      slack = top / 100;
    for (let i = 0; i < data.length; i += 4) {
      const a = data[i + 3]!,
        most = Math.max(data[i]!, data[i + 1]!, data[i + 2]!);
      if (a >= top) {
        this.solid++;
        this.brightness += most / top;
      } else if (a > top / 20) {
        this.partly++;
        if (most > a + slack) this.above++;
      }
    }
  }
  /** True for premultiplied, false for straight, null where nothing tells. */
  get premultiplied(): boolean | null {
    if (this.partly < ENOUGH) return null;
    if (this.above > this.partly / 1000) return false;
    return this.solid >= ENOUGH && this.brightness / this.solid > BRIGHT ? true : null;
  }
}
