import { squared } from '../exact';
import { blurWrapped, mean, percentiles, type ColourPicture, type Plane } from '../raster';
import { integrateSlopes, slopesOfNormals } from '../relief/integrate';
import { printNumber } from '../units';
import type { GreenRuns, MapRole } from './settings';

/** A file of a set, as it is looked at: values 0–1 as stored, any size. */
export interface MapToRecognise {
  fileName: string;
  picture: ColourPicture;
}

export interface RecognisedMap {
  role: MapRole;
  /** What the proposal rests on. */
  by: 'name and content' | 'name' | 'content';
  /** Why, in one sentence; says so when name and content disagree. */
  why: string;
}

type RoleWords = Readonly<Record<MapRole, readonly string[]>>;

/** Full words for what a map holds, and the names of inputs in glTF, OpenPBR, MaterialX and OpenUSD preview surfaces. */
const FULL_WORDS: RoleWords = {
  colour: ['colour', 'color', 'basecolour', 'basecolor', 'diffusecolor', 'reflectance', 'albedo', 'diffuse'],
  height: ['height', 'displacement', 'bump'],
  normal: ['normal', 'normals', 'geometrynormal', 'normaltexture'],
  roughness: ['roughness', 'specularroughness'],
  gloss: ['gloss', 'glossiness', 'smoothness'],
  metalness: ['metalness', 'basemetalness', 'metallic'],
  occlusion: ['occlusion', 'ambientocclusion', 'occlusiontexture'],
  opacity: ['opacity', 'geometryopacity', 'transparency', 'openness', 'alpha'],
};

/** Shortened words, and such as also name a finish; they count only where no full word stands in the name. */
const SHORT_WORDS: RoleWords = {
  colour: ['col', 'diff'],
  height: ['disp', 'relief', 'depth'],
  normal: ['norm', 'nor', 'nrm'],
  roughness: ['rough', 'rgh'],
  gloss: ['smooth'],
  metalness: ['metal'],
  occlusion: ['ao', 'occ'],
  opacity: [],
};

const wordsOf = (fileName: string): string[] =>
  fileName
    .replace(/\.[^.]+$/, '')
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .toLowerCase()
    .split(/[^a-z0-9]+/)
    .filter(Boolean);

/** Role by the last telling word of a name, full words before shortened ones; null when none tells. */
export function roleByName(fileName: string): MapRole | null {
  const words = wordsOf(fileName);
  const joined = [...words.slice(0, -1).map((w, i) => w + words[i + 1]!), ...words].reverse();
  for (const known of [FULL_WORDS, SHORT_WORDS])
    for (const word of joined)
      for (const [role, names] of Object.entries(known)) if (names.includes(word)) return role as MapRole;
  return null;
}

const KNOWN_WORDS = new Set([FULL_WORDS, SHORT_WORDS].flatMap((words) => Object.values(words).flat()));

/** A name without what tells the role, the size and the depth: files of one set share it. */
export function stemOf(fileName: string): string {
  const words = wordsOf(fileName);
  const telling = words.map(
    (w, i) =>
      KNOWN_WORDS.has(w) ||
      KNOWN_WORDS.has(w + (words[i + 1] ?? '')) ||
      KNOWN_WORDS.has((words[i - 1] ?? '') + w) ||
      /^(\d+k?|\d+bit|map|gl|y|up|down)$/.test(w),
  );
  return words.filter((_, i) => !telling[i]).join(' ');
}

interface Content {
  grey: boolean;
  /** Looks like unit vectors that point out of the surface. */
  vectors: boolean;
  /** Share of values at either end. */
  atEnds: number;
  p5: number;
  p50: number;
  p95: number;
  /** Contrast of fine over that of broad detail. */
  fineness: number;
}

function contentOf({ widthPx, heightPx, r, g, b }: ColourPicture): Content {
  const n = r.length;
  let [apart, unit, z, ends] = [0, 0, 0, 0];
  for (let i = 0; i < n; i++) {
    apart += Math.abs(r[i]! - g[i]!) + Math.abs(g[i]! - b[i]!);
    const length = Math.hypot(2 * r[i]! - 1, 2 * g[i]! - 1, 2 * b[i]! - 1);
    if (Math.abs(length - 1) < 0.12) unit++;
    z += 2 * b[i]! - 1;
    if (g[i]! < 0.04 || g[i]! > 0.96) ends++;
  }
  const [p5, p50, p95] = percentiles(g, [0.05, 0.5, 0.95]) as [number, number, number];
  const plane: Plane = { widthPx, heightPx, data: g };
  const broad = blurWrapped(plane, Math.min(widthPx, heightPx) / 24, Math.min(widthPx, heightPx) / 24);
  const middle = mean(g);
  let [fine, coarse] = [0, 0];
  for (let i = 0; i < n; i++) {
    fine += squared(g[i]! - broad.data[i]!);
    coarse += squared(broad.data[i]! - middle);
  }
  return {
    grey: apart / n < 0.012,
    vectors: unit / n > 0.85 && z / n > 0.6,
    atEnds: ends / n,
    p5,
    p50,
    p95,
    fineness: Math.sqrt(fine / Math.max(1e-12, coarse)),
  };
}

/** Whether a content can be of a role at all. */
const CAN_BE: Readonly<Record<MapRole, (c: Content) => boolean>> = {
  colour: (c) => !c.vectors,
  normal: (c) => c.vectors,
  height: (c) => c.grey,
  roughness: (c) => c.grey,
  gloss: (c) => c.grey,
  metalness: (c) => c.grey,
  occlusion: (c) => c.grey && c.p50 > 0.35,
  opacity: (c) => c.grey,
};

const roleByContent = (c: Content): [MapRole, string] =>
  c.vectors
    ? ['normal', 'its colours are unit vectors that point outwards']
    : !c.grey
      ? ['colour', 'it is in colour']
      : c.atEnds > 0.97 && c.p95 - c.p5 > 0.9
        ? ['opacity', 'nearly all of it is fully black or fully white']
        : c.atEnds > 0.97
          ? ['metalness', 'it has one value, at the end of the scale']
          : c.p95 > 0.93 && c.p50 > 0.75
            ? ['occlusion', 'most of it is white, with darker recesses']
            : c.p95 - c.p5 > 0.3
              ? ['height', 'it is grey and uses much of the scale']
              : ['roughness', 'it is grey with little contrast'];

/** Proposes what one map shows, by its name and its content. Where they disagree content wins, and the sentence says so. */
export function recogniseMap({ fileName, picture }: MapToRecognise): RecognisedMap {
  const content = contentOf(picture);
  const named = roleByName(fileName);
  const [seen, because] = roleByContent(content);
  if (named && CAN_BE[named](content))
    return named === seen
      ? { role: named, by: 'name and content', why: `Its name says ${named}, and ${because}.` }
      : { role: named, by: 'name', why: `Its name says ${named}.` };
  return {
    role: seen,
    by: 'content',
    why: named
      ? `Its name says ${named}, but ${because}: taken for ${seen}. Correct it if the name is right.`
      : `Its name does not tell; ${because}.`,
  };
}

/** What is wrong with maps as one set, in one sentence: they must have one shape. Null when nothing is. */
export function faultOfSet(
  maps: readonly { fileName: string; widthPx: number; heightPx: number }[],
): string | null {
  const [first, ...rest] = maps;
  const odd =
    first &&
    rest.find((m) => Math.abs((m.widthPx * first.heightPx) / m.heightPx / first.widthPx - 1) > 0.005);
  return odd
    ? `${odd.fileName} has ${odd.widthPx} × ${odd.heightPx} px, another shape than ${first.fileName} with ${first.widthPx} × ${first.heightPx} px. Maps of one surface share one size; leave it out, or bring it in cut like the others.`
    : null;
}

export interface Orientation {
  greenRuns: GreenRuns;
  /** 0 cannot be told … 1 certain. */
  confidence: number;
  by: 'height' | 'curl';
  why: string;
}

/**
 * Which way the green channel of a normal map counts. With a height map: the normals are integrated both ways, and the
 * height that agrees is right. Without: slopes of a real surface have no curl, so the way with less of it is right.
 *
 * @param normals values 0–1 as stored
 * @param height of the same surface and pixel size, when there is one
 */
export function orientationOfNormals(normals: ColourPicture, height?: Plane): Orientation {
  const up = slopesOfNormals(normals, 'up');
  const down = { x: up.x, y: { ...up.y, data: up.y.data.map((v) => -v) } };
  const { widthPx: w, heightPx: h } = normals;
  const way = (greenRuns: GreenRuns) => (greenRuns === 'up' ? 'up the picture' : 'down the picture');
  if (height && height.widthPx === w && height.heightPx === h) {
    const agree = (slope: typeof up) => correlation(integrateSlopes(slope, { x: 1, y: 1 }).data, height.data);
    const [a, b] = [agree(up), agree(down)];
    const greenRuns = a >= b ? 'up' : 'down';
    return {
      greenRuns,
      confidence: Math.min(1, Math.max(0, Math.abs(a - b))),
      by: 'height',
      why: `Green runs ${way(greenRuns)}: integrated so, the normals agree with the height map by ${printNumber(Math.max(a, b), 2)}, the other way by ${printNumber(Math.min(a, b), 2)}.`,
    };
  }
  const curl = (slope: typeof up) => {
    let sum = 0;
    for (let y = 1; y < h - 1; y++)
      for (let x = 1; x < w - 1; x++) {
        const i = y * w + x;
        // ∂(slope y)/∂x − ∂(slope x)/∂y; rows run down, y up.
        sum += squared(
          slope.y.data[i + 1]! - slope.y.data[i - 1]! - (slope.x.data[i - w]! - slope.x.data[i + w]!),
        );
      }
    return Math.sqrt(sum);
  };
  const [a, b] = [curl(up), curl(down)];
  const greenRuns = a <= b ? 'up' : 'down';
  const confidence = a + b > 0 ? Math.abs(a - b) / (a + b) : 0;
  return {
    greenRuns,
    confidence,
    by: 'curl',
    why:
      confidence < 0.05
        ? 'Which way green runs cannot be told from this map; the relief is too even, or it is no normal map.'
        : `Green runs ${way(greenRuns)}: so the slopes close around every point ${(Math.max(a, b) / Math.max(1e-9, Math.min(a, b))).toFixed(1)} times better than the other way.`,
  };
}

function correlation(a: Float32Array, b: Float32Array): number {
  const [ma, mb] = [mean(a), mean(b)];
  let [ab, aa, bb] = [0, 0, 0];
  for (let i = 0; i < a.length; i++) {
    ab += (a[i]! - ma) * (b[i]! - mb);
    aa += squared(a[i]! - ma);
    bb += squared(b[i]! - mb);
  }
  return aa > 0 && bb > 0 ? ab / Math.sqrt(aa * bb) : 0;
}
