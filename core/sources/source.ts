import type { Quad } from '../straighten';
import { frameOfQuad, framePx, makeFrame, type Frame, type PictureShape } from '../straighten';
import { areaSizeMm, resolveSize, type ResolvedLength, type ResolvedSize } from '../size';
import { Refusal, refusing, type PictureInfo } from '../surface';
import type { PictureSource } from './settings';

/** A picture with its frame and the size of it. */
export interface Source {
  settings: PictureSource;
  info: PictureInfo;
  /** The straightened frame, to which the size belongs. */
  frame: Frame;
  size: ResolvedSize;
}

/** The part of a source that something is made from: its frame, or an area picked out of it. */
export interface UsedPart {
  used: Frame;
  usedMm: { width: number; height: number };
}

/** Frame, size and the used part of a picture. */
export type SampleGeometry = Pick<Source, 'frame' | 'size'> & UsedPart;

/** Pixels as large as those of another picture. */
function sizeLike(frame: Frame, { pxPerMm, width, height }: ResolvedSize): ResolvedSize {
  const px = framePx(frame);
  const like = (mm: number, other: ResolvedLength): ResolvedLength => {
    const claim = {
      way: 'resolution' as const,
      mm,
      basis: other.basis,
      toleranceMm: (mm * other.toleranceMm) / other.mm,
      from: 'pixels as large as those of the leading picture',
    };
    return { ...claim, claims: [claim] };
  };
  return {
    width: like(px.across / pxPerMm.x, width),
    height: like(px.up / pxPerMm.y, height),
    pxPerMm,
    axesDiffer: 0,
  };
}

/**
 * Frame and size of a source.
 * @param lead size of the leading picture, for a source without a size of its own
 * @throws Refusal when corners, lines or marks cannot be
 */
export function frameAndSize(
  { preparation, size, id }: Pick<PictureSource, 'preparation' | 'size' | 'id'>,
  picture: PictureShape,
  lead?: ResolvedSize,
): Pick<Source, 'frame' | 'size'> {
  return refusing('not-straight', `sources.${id}`, () => {
    const frame = makeFrame(picture, { ...preparation, frame: preparation.frame as Quad | null });
    if (size) return { frame, size: resolveSize(size, frame) };
    if (!lead)
      throw new RangeError(
        'The picture that leads the repeat has no size of its own. Give it one under Size.',
      );
    return { frame, size: sizeLike(frame, lead) };
  });
}

/**
 * The part of a source that is used.
 * @param area id of an area picked out of it; null: the whole frame
 * @throws Refusal when there is no such area
 */
export function usedPart(
  { frame, size }: Pick<Source, 'frame' | 'size'>,
  { preparation, id }: Pick<PictureSource, 'preparation' | 'id'>,
  area: string | null,
): UsedPart {
  const frameMm = { width: size.width.mm, height: size.height.mm };
  if (area === null) return { used: frame, usedMm: frameMm };
  const picked = preparation.areas.find((a) => a.id === area);
  if (!picked)
    throw new Refusal(
      'area-missing',
      'An area that the repeat is made from is not there any more. Take it out under Repeat, or undo its removal.',
      `sources.${id}.preparation.areas`,
    );
  return refusing('not-straight', `sources.${id}.preparation.areas`, () => ({
    used: frameOfQuad(frame.picture, frame.bow, picked.corners as Quad),
    usedMm: areaSizeMm(frame, frameMm, picked.corners),
  }));
}

/** Frame, size and used part of a picture at once. @throws Refusal */
export function sampleGeometry(
  settings: Pick<PictureSource, 'preparation' | 'size' | 'id'>,
  area: string | null,
  picture: PictureShape,
  lead?: ResolvedSize,
): SampleGeometry {
  const found = frameAndSize(settings, picture, lead);
  return { ...found, ...usedPart(found, settings, area) };
}
