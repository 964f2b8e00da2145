import type { ColourPicture } from '../raster';
import type { GreenRuns } from '../sample';
import type { LaidPicture } from '../sources';
import { project, toShares, type Frame } from '../straighten';
import type { PlacedSource, Placement, PlacementMap } from './placement';

/**
 * Normals are directions: where a picture is turned or mirrored, they are turned with it. Rows of a matrix give the new
 * part to the right and the new part upwards from those of a normal as it was.
 */
type Turn = readonly [xx: number, xy: number, yx: number, yy: number];

/** A normal map whose vectors are turned; their part out of the surface stays. */
function withTurnedVectors(
  picture: ColourPicture,
  greenRuns: GreenRuns,
  [xx, xy, yx, yy]: Turn,
): ColourPicture {
  const up = greenRuns === 'up' ? 1 : -1;
  const n = picture.r.length;
  const [r, g] = [new Float32Array(n), new Float32Array(n)];
  for (let i = 0; i < n; i++) {
    const x = 2 * picture.r[i]! - 1;
    const y = up * (2 * picture.g[i]! - 1);
    r[i] = (xx * x + xy * y + 1) / 2;
    g[i] = (up * (yx * x + yy * y) + 1) / 2;
  }
  return { ...picture, r, g };
}

/** How far the used part of a picture is turned against the picture, at its middle: what straightening turns back. */
function turnOfFrame(frame: Frame): Turn {
  const { widthPx, heightPx } = frame.picture;
  const at = (u: number) => {
    const [x, y] = toShares(frame.picture, project(frame.plane, [u, 0.5]));
    return [x * widthPx, y * heightPx] as const;
  };
  const [from, to] = [at(0.45), at(0.55)];
  const length = Math.hypot(to[0] - from[0], to[1] - from[1]);
  const right = (to[0] - from[0]) / length;
  const up = -(to[1] - from[1]) / length;
  return [right, up, -up, right];
}

/** A normal map as it is laid: turned as its frame is. */
export function straightenedNormals(laid: LaidPicture, greenRuns: GreenRuns): LaidPicture {
  const turn = turnOfFrame(laid.picture.frame);
  if (Math.abs(turn[1]) < 1e-6) return laid;
  return {
    ...laid,
    change: {
      key: `normals turned ${turn.join(' ')} ${greenRuns}`,
      apply: (picture) => withTurnedVectors(picture, greenRuns, turn),
    },
  };
}

/** How a copy turns its picture: the chain rule for the places that `Placement` describes. */
const turnOfCopy = ({ swapped, signX, signY }: Placement): Turn =>
  swapped ? [0, -signY, -signX, 0] : [signX, 0, 0, signY];

/** The pictures and copies of a placement map, with a picture of its own for each way in which a copy is turned. */
export function normalsPerTurn(
  map: PlacementMap,
  sources: readonly PlacedSource[],
  greenRuns: GreenRuns,
): { map: PlacementMap; sources: PlacedSource[] } {
  const made: PlacedSource[] = [];
  const known = new Map<string, number>();
  const turned = (placement: Placement): Placement => {
    const turn = turnOfCopy(placement);
    const name = `${placement.sourceIndex} ${turn.join(' ')}`;
    if (!known.has(name)) {
      const source = sources[placement.sourceIndex]!;
      const asItIs = turn[0] === 1 && turn[3] === 1;
      known.set(name, made.length);
      made.push(asItIs ? source : { ...source, picture: withTurnedVectors(source.picture, greenRuns, turn) });
    }
    return { ...placement, sourceIndex: known.get(name)! };
  };
  const layers = map.layers.map((layer) => ({ ...layer, placement: turned(layer.placement) }));
  const cells = map.cells && { ...map.cells, placements: map.cells.placements.map(turned) };
  return { map: { ...map, layers, ...(cells ? { cells } : {}) }, sources: made };
}
