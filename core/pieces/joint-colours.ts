import { blurWrapped, distanceTo, maskWhere, type Plane } from '../raster';
import type { Pieces } from './pieces-between';
import type { JointLook } from './segment';

/** Pixels on both sides of an outline in which a blurred edge lies. */
const EDGE_PX = 3;
/** A joint has to stand out by so much more than the pieces differ at their edges to be measured by. */
const LEAST_OUT = 2;
const MOST_CHANGE = 0.6;
/** The colour of the joints is that of their middle: what is farther from a piece than this share of them. */
const DEEPEST = 0.75;

/** What the colours of joints and pieces say about segmented pieces. */
export interface JointColours {
  /** True area of the joints over the segmented one, 0.4–1.6; 1 where that cannot be said. */
  coverage: number;
  /** 1 where a piece is of the colour of the joints over more than their width: a joint widens there. */
  widened: Uint8Array;
}

/**
 * Compares joints as they are segmented with their colours: how much of each pixel at the edges is joint, by its colour between
 * that of the joint and that of the piece. Blur moves the outlines of a threshold, but not this sum.
 *
 * @param lab the planes that were segmented, before they were smoothed
 */
export function jointColours(lab: readonly Plane[], look: JointLook, pieces: Pieces): JointColours {
  const { data } = lab[look.channel]!;
  const { widthPx: w, heightPx: h, label } = pieces;
  const distance = (isIn: (piece: number) => boolean) =>
    distanceTo(maskWhere(label, isIn), w, h, { x: 1, y: 1 }).data;
  const outside = distance((piece) => piece >= 0);
  const inside = distance((piece) => piece < 0);
  const deep = quantileOf(outside, (i) => label[i]! < 0, DEEPEST);
  const joint = deep === null ? null : quantileOf(data, (i) => label[i]! < 0 && outside[i]! >= deep, 0.5);
  const faces = facesOf(data, pieces, inside);
  const usual = quantileOf(data, (i) => inside[i]! > EDGE_PX, 0.5);
  if (joint === null || usual === null || (joint - usual) * look.sign < LEAST_OUT)
    return { coverage: 1, widened: new Uint8Array(label.length) };
  let [covered, segmented] = [0, 0];
  for (let i = 0; i < label.length; i++) {
    const piece = label[i]!;
    if (piece < 0) segmented++;
    else if (inside[i]! > EDGE_PX) continue;
    const face = piece < 0 ? usual : (faces[piece] ?? usual);
    // Of a piece that is of the colour of the joints its edge says nothing.
    if ((joint - face) * look.sign < LEAST_OUT) continue;
    covered += (data[i]! - face) / (joint - face);
  }
  return {
    coverage: Math.min(1 + MOST_CHANGE, Math.max(1 - MOST_CHANGE, covered / Math.max(1, segmented))),
    widened: widenedAt(lab[look.channel]!, look, (usual + joint) / 2),
  };
}

/** Specks and grain are smoothed away; what is left beyond the threshold is as large as a joint is wide. */
function widenedAt(plane: Plane, { sign, widthPx }: JointLook, threshold: number): Uint8Array {
  const smooth = blurWrapped(plane, widthPx / 3, widthPx / 3).data;
  return maskWhere(smooth, (v) => (v - threshold) * sign > 0);
}

function quantileOf(data: Float32Array, isUsed: (i: number) => boolean, share: number): number | null {
  const used = data.filter((_, i) => isUsed(i)).sort();
  return used.length > 0 ? used[Math.min(used.length - 1, Math.floor(share * used.length))]! : null;
}

/** Mean of each piece away from its edge; undefined: it is all edge. */
function facesOf(
  data: Float32Array,
  { label, pieces }: Pieces,
  inside: Float32Array,
): (number | undefined)[] {
  const sum = new Float64Array(pieces.length);
  const count = new Float64Array(pieces.length);
  for (let i = 0; i < data.length; i++)
    if (label[i]! >= 0 && inside[i]! > EDGE_PX) {
      sum[label[i]!]! += data[i]!;
      count[label[i]!]!++;
    }
  return pieces.map((_, k) => (count[k]! > 0 ? sum[k]! / count[k]! : undefined));
}
