import type { ColourPicture, Plane } from '../raster';
import type { HeightField } from '../relief/height';
import type { NormalField } from '../relief/normal';
import type { GreenRuns, MapRole } from '../sample/settings';
import type { Parts } from './parts';
import type { Pending } from './pending';

/** What a field holds where it is not one value everywhere. */
export interface FieldPlanes {
  /** What the sources show, levelled and balanced, before any match of colour; linear light. */
  picture: ColourPicture;
  /** Reflectance as the finish has it, linear light. */
  colour: ColourPicture;
  /** mm above the zero level. */
  height: HeightField;
  normal: NormalField;
  /** Share of the light of an even sky that arrives, 0–1. */
  occlusion: Plane;
  /** Mean curvature, 1/mm: above 0 where the surface bulges. */
  curvature: Plane;
  /** Gloss at 60°, GU. */
  gloss: Plane;
  /** glTF roughness, 0–1. */
  roughness: Plane;
  metalness: Plane;
  opacity: Plane;
}
export type FieldName = keyof FieldPlanes;

/** Fields that may be one value everywhere, which costs nothing. */
export type EvenField = 'gloss' | 'roughness' | 'metalness' | 'opacity';

export type Field<N extends FieldName> = N extends EvenField
  ? number | Pending<number | FieldPlanes[N]>
  : Pending<FieldPlanes[N]>;

/** A map of a set, and which way the green of a normal map runs. */
export interface MapOfSet {
  picture: ColourPicture;
  greenRuns: GreenRuns;
}

/**
 * The finish over its repeat at one density. It closes on itself. Nothing of it is computed before it is asked for: a
 * field is one value, or a pending plane of `px`.
 */
export interface Surface {
  sizeMm: { width: number; height: number };
  px: { width: number; height: number };
  /** Finest detail that the pictures hold: what was one pixel of them. */
  detailMm: { x: number; y: number };
  fields: { readonly [N in FieldName]?: Field<N> };
  /** Maps of a set that came with the pictures, as data, laid as the picture is. */
  maps: ReadonlyMap<MapRole, Pending<MapOfSet>>;
  /** Weight of each part, 0–1. */
  parts: Parts;
  /** Number of the piece that covers a pixel, from 0; null: the surface is not laid of pieces. */
  pieces: Pending<Int32Array | null>;
  /** What weathering did beside changing colour and relief; undefined: nothing happened to the finish. */
  weathered?: WeatheredFields;
  /** What a generated finish has beside its colour. */
  generated?: GeneratedFields;
  /** Of a surface that is laid of pieces: what they are cut from, and how. */
  laid?: LaidSurface;
}

/** What a layer of weathering came to. */
export interface LaidLayer {
  id: string;
  name: string;
  /** Share of the surface that it covers, 0–1. */
  covers: number;
  /** Colour of the whole after it. */
  lrv: number;
  meanLab: readonly [number, number, number];
}

export interface WeatheredFields {
  /** Colour as supplied, before anything happened to it. */
  supplied: Pending<ColourPicture>;
  /** Roughness is that of the finish times `keeps`, plus `roughness`. */
  keeps: Pending<Plane>;
  roughness: Pending<Plane>;
  /** Share of the finish that nothing hides, 0–1: only there metal is bare. */
  bare: Pending<Plane>;
  /** Layers that lie, and those that lie nowhere, with the reason. */
  outcome: Pending<{
    laid: readonly LaidLayer[];
    missing: readonly { id: string; name: string; why: string }[];
  }>;
}

/** Fields of a generated finish beside its colour, from the same causes. */
export interface GeneratedFields {
  /** mm over the mean face. */
  height: Pending<Plane>;
  /** How much glossier a place is than the finish on average, GU. */
  gloss: Pending<Plane>;
  /** Share that is not open, 0–1; null: it has no openings. */
  opacity: Pending<Plane> | null;
}

/**
 * Where what a place shows was taken from on the surface of the faces, mm from its left and upper edge, and the area of it that
 * the piece was cut from; null in joints. Places are mm from the left and upper edge of the repeat.
 */
export type FaceOrigin = (xMm: number, yMm: number) => { xMm: number; yMm: number; area: number } | null;

/** Another finish that some of the pieces, or the joints, are made of. */
export interface LaidFrom {
  key: string;
  surface: Pending<Surface>;
  /** Lays a plane of that surface over the places that are made of it. */
  layOver: (plane: Plane, into: Plane) => Promise<void>;
}

export interface LaidSurface {
  /** The finish as its pieces are cut from it. */
  faces: Surface;
  /** Where the face of a piece was taken from. */
  origin: Pending<FaceOrigin>;
  /** A plane of the faces, laid. */
  lay: (plane: Plane) => Promise<Plane>;
  /** Faces are level, whatever relief the finish has. */
  honed: boolean;
  /** How the faces are worked, and what a meter usually reads on such faces at 60°, GU; null: any gloss is usual. */
  usualGloss: { working: string; glossGu: readonly [from: number, to: number] } | null;
  /** Pieces that are cut from other finishes. */
  others: readonly LaidFrom[];
  /** The finish that joints are made of; null: none. */
  jointFrom: LaidFrom | null;
  /** Relief that laying makes: joints, arrises, laps; mm over a level face. */
  relief: Pending<Plane>;
  /** Weight of the joints, 0–1. */
  joint: Pending<Plane>;
  /** Distance to the end of a piece where that is the nearest outline, mm; elsewhere `reachMm`, beyond which nothing is known. */
  endsMm: (reachMm: number) => Pending<Plane>;
  jointGlossGu: number;
}

/** Size of a pixel of a surface. */
export const mmPerPxOf = ({ sizeMm, px }: Pick<Surface, 'sizeMm' | 'px'>) => ({
  x: sizeMm.width / px.width,
  y: sizeMm.height / px.height,
});

/** A surface with fields added or replaced. */
export const withFields = <S extends Surface>(surface: S, fields: Surface['fields']): S => ({
  ...surface,
  fields: { ...surface.fields, ...fields },
});
