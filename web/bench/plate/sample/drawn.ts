import { drawKeepOuts, mmOfLongSide, type Mark, type Preparation } from '@jossel/core/sample';
import type { LightSettings } from '@jossel/core/light';
import { NO_SIZE, type RulerLine, type SizeSettings } from '@jossel/core/size';
import type { PictureSource, SampleGeometry } from '@jossel/core/sources';
import {
  toFrame,
  toPicture,
  turnedAlong,
  UNIT_SQUARE,
  type PictureShape,
  type Point,
  type Quad,
} from '@jossel/core/straighten';
import { figure } from '@jossel/core/units';
import type { BenchState, Drawing, SampleTool } from '../../bench-slice';
import { boxBetween, thinned } from '../handles/tracks';

/** What a track drawn on the plate can be. */
export type Drawn = Exclude<Drawing, null> | Extract<SampleTool, 'keep-outs' | 'continuity-lines' | 'parts'>;

/** What the next track draws: a drawing that was asked for, else what the tool in hand draws; null: nothing. */
export function drawnNext(bench: BenchState): Drawn | null {
  const { section, drawing, tool } = bench;
  if (section === 'size') return drawing === 'ruler' ? 'ruler' : null;
  if (section === 'colour') return drawing === 'grey' ? 'grey' : null;
  if (section !== 'sample') return null;
  if (drawing) return drawing;
  if (tool === 'keep-outs' || tool === 'continuity-lines') return tool;
  return tool === 'parts' && bench.dropper ? 'parts' : null;
}

export const DRAWN_NAMES: Record<Drawn, string> = {
  ruler: 'Draw a ruler line',
  bow: 'Draw a line along an edge that should be straight',
  grain: 'Draw a line along the grain',
  area: 'Draw an area',
  grey: 'Draw round a grey patch of known reflectance, from its middle outwards',
  parts: 'Click a colour of the part',
  'continuity-lines': 'Draw a continuity line',
  'keep-outs': 'Paint a keep-out',
};

/** Where and with what a track was drawn. */
export interface Hand {
  source: Pick<PictureSource, 'preparation' | 'size' | 'light'>;
  sample: PictureShape;
  geometry: SampleGeometry;
  brush: BenchState['brush'];
  newId: () => string;
}

/** What a finished track does to the picture, and what is in hand afterwards. */
export interface Outcome {
  what: string;
  preparation?: Partial<Preparation>;
  size?: Partial<SizeSettings>;
  light?: Partial<LightSettings>;
  bench?: Partial<BenchState>;
}

const mmOf = ({ size }: SampleGeometry) => ({ width: size.width.mm, height: size.height.mm });

/** A brush's width as a share of the picture's longer side, as it is stored. */
const brushShare = ({ geometry, brush }: Hand) =>
  Math.min(1, Math.max(0.0002, brush.widthMm / mmOfLongSide(geometry.frame, mmOf(geometry))));

/** The keep-out that a track paints; null while an outline has no extent. */
export function keepOutOf(hand: Hand, places: readonly Point[], id: string): Mark | null {
  const { kind, erase } = hand.brush;
  const points = thinned(places);
  if (kind === 'stroke') return { id, kind, points, width: brushShare(hand), erase };
  return points.length > 2 ? { id, kind, points, erase } : null;
}

/**
 * What a finished track means.
 * @param places places of the picture as received, in the order in which they were passed
 * @throws RangeError with a sentence when it means nothing
 */
export function outcomeOf(drawn: Exclude<Drawn, 'parts'>, hand: Hand, places: readonly Point[]): Outcome {
  const { source, sample, geometry } = hand;
  const { preparation } = source;
  const size = source.size ?? NO_SIZE;
  const { frame } = geometry;
  const a = places[0]!;
  const b = places.at(-1)!;
  const apartPx = Math.hypot((a[0] - b[0]) * sample.widthPx, (a[1] - b[1]) * sample.heightPx);
  const needsLength = (what: string) => {
    if (apartPx < 3) throw new RangeError(`${what} has no length; press at one end and let go at the other.`);
  };
  switch (drawn) {
    case 'ruler': {
      needsLength('This ruler line');
      const mm = mmOf(geometry);
      const [p, q] = [toFrame(frame, a), toFrame(frame, b)];
      const lengthMm = Math.hypot((p[0] - q[0]) * mm.width, (p[1] - q[1]) * mm.height);
      const line: RulerLine = {
        id: hand.newId(),
        from: [...a],
        to: [...b],
        lengthMm: figure(Number(lengthMm.toPrecision(4)), 'mm', 'assumed'),
      };
      return {
        what: 'new ruler line',
        size: { lines: [...size.lines, line] },
        bench: { drawing: null, selected: line.id },
      };
    }
    case 'bow': {
      needsLength('This line');
      const line = [0, 1, 2, 3, 4].map((k): [number, number] => [
        a[0] + ((b[0] - a[0]) * k) / 4,
        a[1] + ((b[1] - a[1]) * k) / 4,
      ]);
      return {
        what: 'bow line',
        preparation: { bowLines: [...preparation.bowLines, line] },
        bench: { drawing: null },
      };
    }
    case 'grain': {
      const quad = turnedAlong(sample, (preparation.frame ?? UNIT_SQUARE) as Quad, a, b);
      return {
        what: 'turned along the grain',
        preparation: { frame: quad.map((p) => [...p]) as never },
        bench: { drawing: null },
      };
    }
    case 'area': {
      const [p, q] = [toFrame(frame, a), toFrame(frame, b)];
      if (apartPx < 6 || Math.abs(q[0] - p[0]) < 0.003 || Math.abs(q[1] - p[1]) < 0.003)
        throw new RangeError('This area has no extent; draw from one corner to the opposite one.');
      // From the top left corner, whichever way it was drawn.
      const least = (k: 0 | 1) => Math.min(p[k], q[k]);
      const most = (k: 0 | 1) => Math.max(p[k], q[k]);
      const corners = boxBetween(
        toPicture(frame, [least(0), least(1)]),
        toPicture(frame, [most(0), most(1)]),
        frame,
      );
      const id = hand.newId();
      return {
        what: 'new area',
        preparation: {
          areas: [
            ...preparation.areas,
            {
              id,
              name: `Area ${preparation.areas.length + 1}`,
              leftOut: false,
              corners: corners.map((c) => [...c]) as never,
            },
          ],
        },
        bench: { drawing: null, selected: id },
      };
    }
    case 'grey': {
      if (apartPx < 2)
        throw new RangeError('This patch has no extent; press in its middle and let go at its edge.');
      const radius = apartPx / Math.max(sample.widthPx, sample.heightPx);
      return {
        what: 'grey patch',
        light: {
          balance: 'grey',
          grey: { at: [...a], radius, lrv: source.light.grey?.lrv ?? figure(18, 'LRV', 'assumed') },
        },
        bench: { drawing: null },
      };
    }
    case 'keep-outs': {
      const mark = keepOutOf(hand, places, hand.newId());
      if (!mark) throw new RangeError('An outline needs some extent; draw round what is to be kept out.');
      const keepOuts = [...preparation.keepOuts, mark];
      const mask = drawKeepOuts(geometry.used, keepOuts, 160, 160);
      const share = mask.data.reduce((s, v) => s + v, 0) / mask.data.length;
      if (share > 0.98)
        throw new RangeError(
          'This would keep out the whole sample, so that nothing is left to use. It was not taken over.',
        );
      return { what: 'keep-out', preparation: { keepOuts } };
    }
    case 'continuity-lines': {
      if (places.length < 3) needsLength('This continuity line');
      return {
        what: 'continuity line',
        preparation: {
          continuityLines: [
            ...preparation.continuityLines,
            {
              id: hand.newId(),
              points: thinned(places.length > 1 ? places : [a, b]),
              width: brushShare(hand),
            },
          ],
        },
      };
    }
  }
}
