import type { Cells, Placement } from '../placement';
import { unturned, type AtlasPart } from './atlas';
import type { ToroidalCanvas } from './toroidal-canvas';

/** Period of a regular structure on each axis, and the shift of one course against the next as a share of it. */
export interface Pitch {
  across: number | null;
  up: number | null;
  stagger: number;
}
const NO_PITCH: Pitch = { across: null, up: null, stagger: 0 };

/**
 * What a solved repeat is at the working resolution, in mm.
 *
 * @param torus the repeat
 * @param repeatMm its size
 * @param sourcePxPerMm of each source at the working resolution
 * @param pitchMm of a regular structure: copies that lie within a cell of being in step with the first one are laid
 * exactly in step
 * @param laid where copies lay before something was laid anew: those that are still there stay exactly as they were.
 * What is laid now is added
 * @throws RangeError when there are more copies than a map can name
 */
export function cellsOf(
  torus: ToroidalCanvas,
  repeatMm: { width: number; height: number },
  sourcePxPerMm: readonly { x: number; y: number }[],
  pitchMm: Pitch = NO_PITCH,
  laid = new Map<string, Placement>(),
): Cells {
  const { widthPx: W, heightPx: H, place, closed } = torus;
  const copy = new Uint16Array(W * H);
  const known = new Map<string, number>();
  const names: string[] = [];
  const placements: Placement[] = [];
  const mm = { x: repeatMm.width / W, y: repeatMm.height / H };
  for (let p = 0; p < place.length; p++) {
    const { x, y, u, v, part, key } = copyAt(torus, p);
    let at = known.get(key);
    if (at === undefined) {
      at = placements.length;
      if (at > 65535)
        throw new RangeError('The repeat is cut into more copies than can be kept. Use larger copies.');
      known.set(key, at);
      names.push(key);
      placements.push(laid.get(key) ?? placementOf(part, x, y, u, v, mm, sourcePxPerMm[part.sourceIndex]!));
    }
    copy[p] = at;
  }
  inStep(placements, mm, pitchMm, [...laid.values()].find(lies), (k) => laid.has(names[k]!));
  for (const [k, name] of names.entries()) if (!laid.has(name)) laid.set(name, placements[k]!);
  return { widthPx: W, heightPx: H, copy, placements, closed, ...joiningOf(torus) };
}

/** Where copies are not evened out: in the joints that the sample shows, else in those of its lattice. */
function joiningOf({ off, place, atlas: { inPiece } }: ToroidalCanvas): Pick<Cells, 'parted' | 'inPiece'> {
  if (inPiece)
    return {
      parted: { rows: new Uint8Array(off.row.length), columns: new Uint8Array(off.column.length) },
      inPiece: Uint8Array.from(place, (from) => inPiece[from]!),
    };
  const joints = (line: Int32Array) =>
    Uint8Array.from(line, (more) => (more === 0 && line.some((v) => v > 0) ? 1 : 0));
  return { parted: { rows: joints(off.row), columns: joints(off.column) } };
}

/** Which pixel of which part lies at a place, and the name of the copy it belongs to: all that lie as far from their part. */
function copyAt({ widthPx: W, place, atlas }: ToroidalCanvas, p: number) {
  const x = p % W;
  const y = (p - x) / W;
  const index = atlas.partOf[place[p]!]!;
  const part = atlas.parts[index]!;
  const local = place[p]! - part.first;
  const v = Math.floor(local / atlas.stride);
  const u = local - v * atlas.stride;
  return { x, y, u, v, part, key: `${index} ${u - x} ${v - y}` };
}

/**
 * Where copies lie, by name, when a repeat begins elsewhere: exactly where they lay before.
 * @param cells the repeat as it was
 * @param begun the same repeat, begun `by` cells further
 */
export function laidAsBefore(
  { copy, placements }: Cells,
  begun: ToroidalCanvas,
  by: { x: number; y: number },
  repeatMm: { width: number; height: number },
): Map<string, Placement> {
  const { widthPx: W, heightPx: H } = begun;
  const out = new Map<string, Placement>();
  for (let p = 0; p < begun.place.length; p++) {
    const { x, y, key } = copyAt(begun, p);
    if (out.has(key)) continue;
    const [beforeX, beforeY] = [(x + by.x) % W, (y + by.y) % H];
    const was = placements[copy[beforeY * W + beforeX]!]!;
    const dx = ((beforeX - x) * repeatMm.width) / W;
    const dy = ((beforeY - y) * repeatMm.height) / H;
    out.set(key, {
      ...was,
      offsetXMm: was.offsetXMm + was.signX * (was.swapped ? dy : dx),
      offsetYMm: was.offsetYMm + was.signY * (was.swapped ? dx : dy),
    });
  }
  return out;
}

/** The placement by which pixel (u, v) of a part lies at cell (x, y). */
function placementOf(
  part: AtlasPart,
  x: number,
  y: number,
  u: number,
  v: number,
  mm: { x: number; y: number },
  pxPerMm: { x: number; y: number },
): Placement {
  const { turn, widthPx, heightPx } = part;
  // How the sample's own pixel moves as the turned one moves: from three neighbouring pixels.
  const at = unturned(turn, u, v, widthPx, heightPx);
  const right = unturned(turn, u + 1, v, widthPx, heightPx);
  const below = unturned(turn, u, v + 1, widthPx, heightPx);
  const swapped = right[0] === at[0];
  const signX = (swapped ? below[0] - at[0] : right[0] - at[0]) as 1 | -1;
  const signY = (swapped ? right[1] - at[1] : below[1] - at[1]) as 1 | -1;
  const [rx, ry] = [(x + 0.5) * mm.x, (y + 0.5) * mm.y];
  return {
    sourceIndex: part.sourceIndex,
    ...(swapped ? { swapped } : {}),
    signX,
    signY,
    offsetXMm: (at[0] + 0.5) / pxPerMm.x - signX * (swapped ? ry : rx),
    offsetYMm: (at[1] + 0.5) / pxPerMm.y - signY * (swapped ? rx : ry),
  };
}

/** Laid as the sample lies. */
const lies = (p: Placement) => !p.swapped && p.signX === 1 && p.signY === 1;

/** Lays copies that are nearly in step with the first one exactly in step: pixels are coarser than a lattice. */
function inStep(
  placements: Placement[],
  mm: { x: number; y: number },
  pitchMm: Pitch,
  before: Placement | undefined,
  stays: (k: number) => boolean,
): void {
  const first = before ?? placements.find(lies);
  if (!first) return;
  const snapped = (offset: number, from: number, pitch: number | null, cell: number) => {
    if (!pitch) return offset;
    const near = from + Math.round((offset - from) / pitch) * pitch;
    return Math.abs(near - offset) <= cell ? near : offset;
  };
  const { offsetXMm, offsetYMm } = first;
  const { across, up, stagger } = pitchMm;
  for (const [k, p] of placements.entries()) {
    if (!lies(p) || stays(k)) continue;
    const courses = up ? Math.round((p.offsetYMm - offsetYMm) / up) : 0;
    placements[k] = {
      ...p,
      offsetXMm: snapped(p.offsetXMm, offsetXMm + (across ? courses * stagger * across : 0), across, mm.x),
      offsetYMm: snapped(p.offsetYMm, offsetYMm, up, mm.y),
    };
  }
}
