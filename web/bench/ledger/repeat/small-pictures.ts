import type { Recipe } from '@jossel/core/finish';
import { hashOf } from '@jossel/core/surface';
import type { Arrangement } from '@jossel/core/repeat';
import type { Drawn } from '../../../workers/render.worker';

/** Small pictures of arrangements, kept in the browser: to see one again it need not be solved again. */

const KEY = 'jossel.arrangements';
const SIDE_PX = 96;
/** The oldest are left out beyond that. */
const MOST = 200;

/** What the arrangement looks like hangs on nothing else; its colour, which may be set later, aside. */
export function nameOfPicture({ sources, repeat }: Recipe, arrangement: Arrangement): string {
  const { arrangements: _, arrangement: __, why: ___, ...settings } = repeat;
  return hashOf('small picture', sources, settings, arrangement);
}

type Kept = [name: string, picture: string][];
const isKept = (v: unknown): v is Kept =>
  Array.isArray(v) &&
  v.every((e) => Array.isArray(e) && typeof e[0] === 'string' && typeof e[1] === 'string');

/** All that are kept, the oldest first; nothing where they cannot be read. */
export function keptPictures(): Map<string, string> {
  try {
    const stored: unknown = JSON.parse(localStorage.getItem(KEY) ?? '[]');
    return new Map(isKept(stored) ? stored : []);
  } catch {
    return new Map();
  }
}

/** Keeps one more; when there is no room, it is only not kept. */
export function keepPicture(name: string, picture: string): Map<string, string> {
  const kept = keptPictures();
  kept.delete(name);
  kept.set(name, picture);
  for (const oldest of kept.keys()) {
    if (kept.size <= MOST) break;
    kept.delete(oldest);
  }
  try {
    localStorage.setItem(KEY, JSON.stringify([...kept]));
  } catch {
    // The browser has no room: they are there until the page is left.
  }
  return kept;
}

/** The middle of what is drawn, small. */
export function smallPicture({ widthPx, heightPx, colour }: Drawn): string {
  const whole = document.createElement('canvas');
  whole.width = widthPx;
  whole.height = heightPx;
  whole.getContext('2d')!.putImageData(new ImageData(colour, widthPx, heightPx), 0, 0);
  const small = document.createElement('canvas');
  small.width = small.height = SIDE_PX;
  const side = Math.min(widthPx, heightPx);
  small
    .getContext('2d')!
    .drawImage(whole, (widthPx - side) / 2, (heightPx - side) / 2, side, side, 0, 0, SIDE_PX, SIDE_PX);
  return small.toDataURL('image/jpeg', 0.85);
}
