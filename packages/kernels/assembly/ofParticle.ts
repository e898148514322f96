import { scatter, unit4 } from './noise';

/** A number 0..1 of particles by their ids (hashes themselves), the seed and a channel. */
@inline
export function own(seed: i32, id: v128, channel: i32): v128 {
  return unit4(scatter(i32x4.add(id, i32x4.splat(seed * 0x85ebca77 + channel * 0x9e3779b1))));
}

/** Share of the particles that stand behind the subject; drawFlakes in core/particles uses the same. */
export const BEHIND_SHARE: f32 = 0.38;
