import { labToXyz, xyzToLinear, type Triple } from '@jossel/core/colour';
import type { PhysicalSurface } from '../physical/surface';
import { halve, hashUnit, type Plane } from '@jossel/core/raster';
import { normalsOfHeight } from '@jossel/core/relief';
import { roughnessOfGloss } from '@jossel/core/response';
import { CARD_MM, cardAt } from '@jossel/core/straighten';

/** What lies on the table, in mm; x to the right, y towards the person, 0, 0 the middle of the sample. */

/** One halving of the sample's planes. */
interface Level {
  widthPx: number;
  heightPx: number;
  r: Float32Array;
  g: Float32Array;
  b: Float32Array;
  nx: Float32Array;
  ny: Float32Array;
  alpha: Float32Array;
}

export interface Things {
  surface: PhysicalSurface;
  /** Half sizes of the sample. */
  halfMm: { x: number; y: number };
  levels: Level[];
  /** Top left corner and turn of the card, when there is one. */
  card: { xMm: number; yMm: number; turnDeg: number } | null;
  cardTurn: { cos: number; sin: number };
  /** A steel ruler below the sample. */
  ruler: { xMm: number; yMm: number; lengthMm: number } | null;
  /** A paper label stuck on the sample, and a drilled hole: what swatches have. */
  label: { xMm: number; yMm: number; widthMm: number; heightMm: number } | null;
  hole: { xMm: number; yMm: number; radiusMm: number } | null;
}

/** Colour and tilt at one place of the table. */
export interface Ground {
  r: number;
  g: number;
  b: number;
  nx: number;
  ny: number;
  alpha: number;
}

const known = new WeakMap<Triple, Triple>();
/** Linear colour of a printed one; the card's colours are few and each is one object. */
function linearOf(lab: Triple): Triple {
  let linear = known.get(lab);
  if (!linear) known.set(lab, (linear = xyzToLinear(labToXyz(lab))));
  return linear;
}

/** Roughness (alpha) for whole gloss units, so that it need not be solved for every pixel. */
const ALPHAS = Float32Array.from({ length: 101 }, (_, gu) =>
  Math.max(
    0.02,
    roughnessOfGloss(Math.min(95, Math.max(0.2, gu)), { kind: 'dielectric', index: 1.5 }).roughness ** 2,
  ),
);

const levelsBySurface = new WeakMap<PhysicalSurface, Level[]>();

/** Colour, tilt and roughness of a surface at all halvings; made once. */
function levelsOf(surface: PhysicalSurface): Level[] {
  const made = levelsBySurface.get(surface);
  if (made) return made;
  const { widthPx, heightPx } = surface.colour;
  const normals = normalsOfHeight(surface.heightMmPlane, {
    x: surface.widthMm / widthPx,
    y: surface.heightMm / heightPx,
  });
  const alpha = surface.glossGu.data.map((gu) => ALPHAS[Math.min(100, Math.max(0, Math.round(gu)))]!);
  const levels: Level[] = [
    {
      widthPx,
      heightPx,
      r: surface.colour.r,
      g: surface.colour.g,
      b: surface.colour.b,
      nx: normals.x,
      ny: normals.y,
      alpha,
    },
  ];
  while (Math.min(levels.at(-1)!.widthPx, levels.at(-1)!.heightPx) > 16) {
    const last = levels.at(-1)!;
    const half = (data: Float32Array) => halve({ widthPx: last.widthPx, heightPx: last.heightPx, data });
    const first: Plane = half(last.r);
    levels.push({
      widthPx: first.widthPx,
      heightPx: first.heightPx,
      r: first.data,
      g: half(last.g).data,
      b: half(last.b).data,
      nx: half(last.nx).data,
      ny: half(last.ny).data,
      alpha: half(last.alpha).data,
    });
  }
  levelsBySurface.set(surface, levels);
  return levels;
}

/** Which halving of the sample is looked at when one look covers so much of it. */
const levelAt = (things: Things, footMm: number): Level => {
  const texelMm = (2 * things.halfMm.x) / things.levels[0]!.widthPx;
  const n = Math.round(Math.log2(footMm / texelMm));
  return things.levels[Math.min(things.levels.length - 1, Math.max(0, n))]!;
};

/** Puts a made-up sample on the table. */
export function layOut(
  surface: PhysicalSurface,
  more: Partial<Pick<Things, 'card' | 'ruler' | 'label' | 'hole'>>,
): Things {
  const levels = levelsOf(surface);
  return {
    surface,
    halfMm: { x: surface.widthMm / 2, y: surface.heightMm / 2 },
    levels,
    card: null,
    cardTurn: {
      cos: Math.cos(((more.card?.turnDeg ?? 0) * Math.PI) / 180),
      sin: Math.sin(((more.card?.turnDeg ?? 0) * Math.PI) / 180),
    },
    ruler: null,
    label: null,
    hole: null,
    ...more,
  };
}

const between = (p: Float32Array, i: number, j: number, fx: number, fy: number) =>
  (p[i]! * (1 - fx) + p[i + 1]! * fx) * (1 - fy) + (p[j]! * (1 - fx) + p[j + 1]! * fx) * fy;

function fromLevel(level: Level, u: number, v: number, withTilt: boolean, out: Ground): void {
  const x = Math.min(level.widthPx - 1.001, Math.max(0, u * level.widthPx - 0.5));
  const y = Math.min(level.heightPx - 1.001, Math.max(0, v * level.heightPx - 0.5));
  const x0 = x | 0;
  const y0 = y | 0;
  const fx = x - x0;
  const fy = y - y0;
  const i = y0 * level.widthPx + x0;
  const j = i + level.widthPx;
  out.r = between(level.r, i, j, fx, fy);
  out.g = between(level.g, i, j, fx, fy);
  out.b = between(level.b, i, j, fx, fy);
  if (!withTilt) return;
  out.nx = between(level.nx, i, j, fx, fy);
  out.ny = between(level.ny, i, j, fx, fy);
  out.alpha = between(level.alpha, i, j, fx, fy);
}

const put = (out: Ground, [r, g, b]: Triple, alpha = 0.6): void => {
  out.r = r;
  out.g = g;
  out.b = b;
  out.nx = out.ny = 0;
  out.alpha = alpha;
};

const PAPER = linearOf([93, 0, 3]);
const INK = linearOf([24, 0, 0]);
const STEEL = linearOf([78, 0, 0]);

/**
 * What lies at a place of the table.
 * @param footMm size of what is looked at, so that the sample's detail is averaged over it
 * @param withTilt also its normal and roughness; without, only the colour
 */
export function groundAt(
  things: Things,
  x: number,
  y: number,
  footMm: number,
  withTilt: boolean,
  out: Ground,
): void {
  const { halfMm, card, ruler, label, hole } = things;
  if (card) {
    const dx = x - card.xMm;
    const dy = y - card.yMm;
    const u = dx * things.cardTurn.cos + dy * things.cardTurn.sin;
    const v = dy * things.cardTurn.cos - dx * things.cardTurn.sin;
    if (u >= 0 && v >= 0 && u <= CARD_MM.width && v <= CARD_MM.height) {
      const lab = cardAt(u, v);
      if (lab) return put(out, linearOf(lab));
    }
  }
  if (
    ruler &&
    x >= ruler.xMm - 4 &&
    x <= ruler.xMm + ruler.lengthMm + 4 &&
    y >= ruler.yMm &&
    y <= ruler.yMm + 22
  ) {
    const at = x - ruler.xMm;
    const nearest = Math.round(at);
    const down = y - ruler.yMm;
    const long = nearest % 10 === 0 ? 11 : nearest % 5 === 0 ? 8 : 5;
    const tick = at > -0.4 && at < ruler.lengthMm + 0.4 && Math.abs(at - nearest) < 0.12 && down < long;
    return put(out, tick ? INK : STEEL, 0.35);
  }
  const u = (x + halfMm.x) / (2 * halfMm.x);
  const v = (y + halfMm.y) / (2 * halfMm.y);
  if (u >= 0 && v >= 0 && u <= 1 && v <= 1) {
    if (hole && Math.hypot(x - hole.xMm, y - hole.yMm) < hole.radiusMm) return put(out, [0.02, 0.02, 0.022]);
    if (
      label &&
      x >= label.xMm &&
      x <= label.xMm + label.widthMm &&
      y >= label.yMm &&
      y <= label.yMm + label.heightMm
    ) {
      // Lines of type that nobody can read.
      const [lx, ly] = [x - label.xMm, y - label.yMm];
      const row = Math.floor(ly / 4);
      const typed =
        ly % 4 > 1.2 &&
        ly % 4 < 3 &&
        lx > 3 &&
        lx < label.widthMm * (0.5 + 0.4 * hashUnit(row, 1, 0, 5)) &&
        ly > 3 &&
        ly < label.heightMm - 3 &&
        hashUnit(Math.floor(lx / 0.9), row, 2, 7) < 0.55;
      return put(out, typed ? INK : PAPER);
    }
    return fromLevel(levelAt(things, footMm), u, v, withTilt, out);
  }
  // A grey cloth with a soft shadow of the sample.
  const ox = Math.max(0, Math.abs(x) - halfMm.x);
  const oy = Math.max(0, Math.abs(y) - halfMm.y);
  const outside = Math.sqrt(ox * ox + oy * oy);
  const cloth = 0.2 + 0.012 * (hashUnit(Math.floor(x), Math.floor(y), 0, 11) - 0.5);
  const shade = outside > 30 ? 1 : 1 - 0.35 * Math.exp(-outside / 4);
  return put(out, [cloth * shade, cloth * shade, cloth * shade]);
}
