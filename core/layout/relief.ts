import { gradientNoise, hashUnit, makePlane, type Plane } from '../raster';
import { atOnce, rowSpans, type Steps } from '../steps';
import { arrisDropMm } from './arris-profile';
import { ALONG, type Cover } from './cover';
import { jointHeightMm } from './joint-profile';
import type { LaidPiece, LayoutGeometry } from './lay';
import { boxOf, quarterExact } from './polygon';
import { coverage } from './sampling';
import type { LayoutSettings } from './settings';
import { workedFace } from './working';

/** The relief that laying makes: joints, arrises, faces out of level, laps. */

/** Widest arris with its unevenness, as a multiple of its width. */
const WIDEST_ARRIS = 1.9;

/** How far from the edges of pieces heights change, mm. */
export function reachOf({ arris, joint }: LayoutSettings): { insideMm: number; outsideMm: number } {
  const widest = Math.max(joint.alongMm.value, joint.acrossMm.value);
  return {
    insideMm: arris.form === 'square' ? 0 : WIDEST_ARRIS * arris.sizeMm.value,
    outsideMm: 0.75 * widest,
  };
}

/**
 * Height of the laid pieces and their joints over a level face, mm.
 * @param ofJoints height of what joints are made of about its mean, mm, at every pixel of a joint; null: they have a plain grain
 */
export const reliefOfLayout = (...of: Parameters<typeof layoutReliefSteps>): Plane =>
  atOnce(layoutReliefSteps(...of));

/** As `reliefOfLayout`, left between rows. */
export function* layoutReliefSteps(
  geometry: LayoutGeometry,
  cover: Cover,
  settings: LayoutSettings,
  ofJoints: Float32Array | null = null,
): Steps<Plane> {
  const plane = makePlane(cover.px.width, cover.px.height);
  const heightAt = heightOfLayout(geometry, cover, settings, ofJoints);
  const { widthPx, heightPx, data } = plane;
  for (const { from, to } of rowSpans(heightPx, 4 * widthPx)) {
    yield;
    for (let row = from, i = from * widthPx; row < to; row++)
      for (let x = 0; x < widthPx; x++, i++) data[i] = heightAt(i, x, row);
  }
  return plane;
}

/** Height at a pixel of a layout by its number, its column and its row, mm. */
function heightOfLayout(
  geometry: LayoutGeometry,
  cover: Cover,
  settings: LayoutSettings,
  ofJoints: Float32Array | null,
): (i: number, x: number, row: number) => number {
  const { width: w, height: h } = cover.px;
  const { repeatMm } = geometry;
  const [mmX, mmY] = [repeatMm.width / w, repeatMm.height / h];
  const mmPx = Math.max(mmX, mmY);
  const levels = geometry.pieces.map((piece) => levelOf(piece, settings, repeatMm));
  const arrisAt = arrisWidth(settings, repeatMm);
  const grainAt = jointGrain(settings, repeatMm);
  const worked = workedFace(settings, mmPx);
  const { form } = settings.arris;
  const { profile, depthMm, alongMm, acrossMm } = settings.joint;
  const faceAt = (id: number, xMm: number, y: number): number => {
    const piece = geometry.pieces[id]!;
    const level = levels[id]!;
    const height = typeof level === 'number' ? level : level(xMm, y);
    if (!worked) return height;
    const [dx, dy] = [xMm - piece.centre[0], y - piece.centre[1]];
    const nearestX = dx - repeatMm.width * Math.round(dx / repeatMm.width);
    const nearestY = dy - repeatMm.height * Math.round(dy / repeatMm.height);
    return height + worked(piece, nearestX, nearestY);
  };
  const jointAt = (i: number, xMm: number, y: number): number => {
    const side = cover.side[i]!;
    const half = (side & ALONG ? alongMm.value : acrossMm.value) / 2;
    const at = half > 0 ? Math.min(1, -cover.distanceMm[i]! / half) : 1;
    // The joint is struck from the foot of the arrises.
    const foot = form === 'chipped' ? 0 : arrisAt(xMm, y, side);
    const grain = ofJoints ? ofJoints[i]! : grainAt(xMm, y);
    return jointHeightMm(profile, Math.max(0, at), side, depthMm.value) - foot + grain;
  };
  return (i, x, row) => {
    const y = repeatMm.height - (row + 0.5) * mmY;
    const xMm = (x + 0.5) * mmX;
    const id = cover.piece[i]!;
    const d = cover.distanceMm[i]!;
    const share = id < 0 ? 0 : coverage(d, mmPx);
    let height = 0;
    if (share > 0) {
      height = faceAt(id, xMm, y);
      if (d < cover.reach.insideMm)
        height -= arrisDropMm(form, Math.max(0, d), arrisAt(xMm, y, cover.side[i]!));
    }
    return share < 1 ? share * height + (1 - share) * jointAt(i, xMm, y) : height;
  };
}

/** Height of the face of a piece: one everywhere, or by place. */
function levelOf(
  piece: LaidPiece,
  { tolerance, seed }: LayoutSettings,
  { width, height }: LayoutGeometry['repeatMm'],
): number | ((x: number, y: number) => number) {
  const chance = (k: number) => 2 * hashUnit(piece.id, k, 17, seed) - 1;
  const box = boxOf(piece.outline);
  const [wide, high] = [box.right - box.left, box.top - box.bottom];
  const base = piece.raisedMm + (tolerance.lippageMm / 2) * chance(1);
  const tilt = { x: (tolerance.tiltMm * chance(2)) / wide, y: (tolerance.tiltMm * chance(3)) / high };
  const lap = piece.lap ? lapOf(piece, piece.lap) : null;
  const [cx, cy] = piece.centre;
  if (tilt.x === 0 && tilt.y === 0 && !lap) return base;
  return (x, y) => {
    let dx = x - cx;
    let dy = y - cy;
    dx -= width * Math.round(dx / width);
    dy -= height * Math.round(dy / height);
    return base + tilt.x * dx + tilt.y * dy + (lap ? lap(dx, dy) : 0);
  };
}

/** One side stands out: the face rises from the opposite side to it. */
function lapOf({ outline, centre }: LaidPiece, { mm, directionDeg }: { mm: number; directionDeg: number }) {
  const [cos, sin] = quarterExact(directionDeg);
  const along = outline.map(([x, y]) => (x - centre[0]) * cos + (y - centre[1]) * sin);
  const [least, most] = [Math.min(...along), Math.max(...along)];
  return (dx: number, dy: number) => (mm * (dx * cos + dy * sin - least)) / (most - least);
}

const cellsOver = (lengthMm: number, waveMm: number) => Math.max(1, Math.round(lengthMm / waveMm));

/** Width of the arris at a place: uneven where it was not sawn, none at sides that have none. */
export function arrisWidth(
  { arris, seed }: LayoutSettings,
  repeatMm: LayoutGeometry['repeatMm'],
): (x: number, y: number, side: number) => number {
  const { form, sizeMm, sides, uneven } = arris;
  const size = form === 'square' ? 0 : sizeMm.value;
  const cells = {
    x: cellsOver(repeatMm.width, 9 * Math.max(1, size)),
    y: cellsOver(repeatMm.height, 9 * Math.max(1, size)),
  };
  const noise = (x: number, y: number, times: number) =>
    gradientNoise(
      x / repeatMm.width,
      y / repeatMm.height,
      times * cells.x,
      times * cells.y,
      seed + 31 * times,
    );
  return (x, y, side) => {
    if (sides === 'long' && !(side & ALONG)) return 0;
    // Chips are where the noise is high; elsewhere the arris is sharp.
    if (form === 'chipped')
      return size * Math.max(0, 4 * (0.5 * noise(x, y, 1) + 0.5 * noise(x, y, 3)) - 0.5 + uneven * 0.4);
    return uneven === 0 ? size : size * Math.max(0.1, 1 + 0.9 * uneven * 1.6 * noise(x, y, 1));
  };
}

/** Grain of the joint: sand that stands a little above and below its level. */
function jointGrain({ joint, seed }: LayoutSettings, repeatMm: LayoutGeometry['repeatMm']) {
  if (joint.grainMm === 0 || joint.profile === 'open') return () => 0;
  const cells = { x: cellsOver(repeatMm.width, 1.6), y: cellsOver(repeatMm.height, 1.6) };
  return (x: number, y: number) =>
    (joint.grainMm / 2) *
    gradientNoise(x / repeatMm.width, y / repeatMm.height, cells.x, cells.y, seed + 977);
}

/** Weight of the arris within a piece: 1 on it, 0 on the face. */
export function arrisWeight(settings: LayoutSettings, { repeatMm }: LayoutGeometry) {
  const width = arrisWidth(settings, repeatMm);
  return (i: number, { px, distanceMm, side }: Cover): number => {
    const [x, row] = [i % px.width, Math.floor(i / px.width)];
    const [mmX, mmY] = [repeatMm.width / px.width, repeatMm.height / px.height];
    const size = width((x + 0.5) * mmX, repeatMm.height - (row + 0.5) * mmY, side[i]!);
    return size > 0 ? coverage(size - distanceMm[i]!, Math.max(mmX, mmY)) : 0;
  };
}
