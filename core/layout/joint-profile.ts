import { LOWER, UPPER } from './cover';
import type { JointProfile } from './settings';

/**
 * Height of a joint between two faces at 0, mm.
 * @param profile its section
 * @param at share of the way from the nearest piece to the middle of the joint, 0–1
 * @param side which edge of that piece it is (`Cover.side`)
 * @param depthMm at its deepest
 */
export function jointHeightMm(profile: JointProfile, at: number, side: number, depthMm: number): number {
  switch (profile) {
    case 'flush':
      return 0;
    case 'recessed':
    case 'open':
      return -depthMm;
    case 'v':
      return -depthMm * at;
    case 'bucket-handle':
      return -depthMm * Math.sqrt(Math.max(0, 1 - (1 - at) * (1 - at)));
    case 'weather-struck': {
      // Pressed in under the upper course, so that water runs off over the arris of the lower one.
      if (side & LOWER) return -depthMm * (1 - at / 2);
      if (side & UPPER) return (-depthMm * at) / 2;
      return -depthMm / 2;
    }
  }
}
