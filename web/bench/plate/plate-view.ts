import { DRAWING_SCALES } from '../../controls/drawing-scales';

/** How a flat picture of known size lies in its view: scale and place, and what zooming and moving make of them. */

/** How a field of known size lies in the view: screen pixel = left + mm · pxPerMm. */
export interface Placed {
  box: { w: number; h: number };
  left: number;
  top: number;
  pxPerMm: number;
  /** Drawing scale as 1 : scale. */
  scale: number;
  /** It is being moved or zoomed: what is drawn may be coarser until it stands. */
  moves: boolean;
}

/** A place of the field, mm from its upper left corner. */
export type FieldMm = readonly [number, number];

/** Drawing scales, with those in between that sheets use as well, so that what is shown fills the view. */
export const SHEET_SCALES: readonly number[] = [
  0.1,
  0.2,
  0.25,
  0.5,
  0.75,
  ...DRAWING_SCALES,
  1.5,
  2.5,
  3,
  4,
  6,
  7.5,
  12.5,
  15,
  25,
  30,
  40,
  75,
  100,
  150,
  200,
  500,
].sort((a, b) => a - b);

/** Scales between which one can zoom: 20:1 to 1:1000. */
const SCALE_LIMITS = [0.05, 1000] as const;
export const limitScale = (scale: number): number =>
  Math.min(SCALE_LIMITS[1], Math.max(SCALE_LIMITS[0], scale));

export const scaleWords = (scale: number): string =>
  scale < 1 ? `${Number((1 / scale).toPrecision(2))}:1` : `1:${Number(scale.toPrecision(2))}`;

interface Field {
  fieldMm: { width: number; height: number };
  box: { w: number; h: number };
  /** CSS pixels per mm of the screen. */
  screenPxPerMm: number;
}

/** What is left free around a field that fills its view, px. */
const MARGIN_PX = 24;

/**
 * The scale at which all of a field is seen.
 * @param tightly as large as it can be; otherwise at the nearest scale of a drawing sheet
 */
export function fittingScale({ fieldMm, box, screenPxPerMm }: Field, tightly: boolean): number {
  if (tightly)
    return Math.max(
      (fieldMm.width * screenPxPerMm) / Math.max(1, box.w - MARGIN_PX),
      (fieldMm.height * screenPxPerMm) / Math.max(1, box.h - MARGIN_PX),
    );
  const fits = (s: number) =>
    (fieldMm.width * screenPxPerMm) / s <= box.w - 16 && (fieldMm.height * screenPxPerMm) / s <= box.h - 16;
  return SHEET_SCALES.find(fits) ?? 500;
}

/**
 * Where a field lies. One that is smaller than the view lies in its middle; a larger one can be moved as far as its edges.
 * @param centre what is in the middle of the view; null: the middle of the field
 */
export function placeField(
  { fieldMm, box, screenPxPerMm }: Field,
  scale: number,
  centre: FieldMm | null,
): Placed {
  const pxPerMm = screenPxPerMm / scale;
  const along = (lengthMm: number, boxPx: number, centreMm: number) => {
    const px = lengthMm * pxPerMm;
    if (px <= boxPx) return (boxPx - px) / 2;
    return Math.min(MARGIN_PX, Math.max(boxPx - px - MARGIN_PX, boxPx / 2 - centreMm * pxPerMm));
  };
  return {
    box,
    pxPerMm,
    scale,
    moves: false,
    left: along(fieldMm.width, box.w, centre?.[0] ?? fieldMm.width / 2),
    top: along(fieldMm.height, box.h, centre?.[1] ?? fieldMm.height / 2),
  };
}

/** What is in the middle of the view. */
export const centreOf = ({
  box,
  left,
  top,
  pxPerMm,
}: Pick<Placed, 'box' | 'left' | 'top' | 'pxPerMm'>): FieldMm => [
  (box.w / 2 - left) / pxPerMm,
  (box.h / 2 - top) / pxPerMm,
];

/** The middle of the view after moving what is seen by so many pixels. */
export const movedBy = (placed: Placed, dx: number, dy: number): FieldMm =>
  centreOf({ ...placed, left: placed.left + dx, top: placed.top + dy });

/** The middle of the view at another scale, at which what lies under the pointer stays under it. */
export function zoomedAt(placed: Placed, scale: number, at: readonly [number, number]): FieldMm {
  const pxPerMm = (placed.pxPerMm * placed.scale) / scale;
  const under = [(at[0] - placed.left) / placed.pxPerMm, (at[1] - placed.top) / placed.pxPerMm] as const;
  return centreOf({
    box: placed.box,
    pxPerMm,
    left: at[0] - under[0] * pxPerMm,
    top: at[1] - under[1] * pxPerMm,
  });
}

/** The next scale of a drawing sheet, larger or smaller than this one. */
export function nextScale(scale: number, larger: boolean): number {
  const near = 1.001;
  return larger
    ? (SHEET_SCALES.findLast((s) => s * near < scale) ?? limitScale(scale / 2))
    : (SHEET_SCALES.find((s) => s > scale * near) ?? limitScale(scale * 2));
}
