import { expose } from 'comlink';
import {
  boxOf,
  hatchOf,
  solveLayoutInTurns,
  takeOffOfField,
  type FieldTakeOff,
  type LayoutGeometry,
  type LayoutSettings,
  type SettingOutPoint,
} from '@jossel/core/layout';
import { yieldToEventLoop } from './yield-to-event-loop';

/** Lays pieces for drawings of lines; pixels are made elsewhere. */

/** A layout as lines, for SVG: y downwards from the top of the repeat, mm. */
export interface LayoutLines {
  repeatMm: { width: number; height: number };
  path: string;
  pieces: number;
  /** A piece that stands square to the axes, and the joints beside it; null: there is none. */
  typical: {
    piece: { left: number; right: number; top: number; bottom: number; lying: boolean };
    joint: { right: number; below: number };
  } | null;
}

const number = (v: number) => Math.round(v * 100) / 100;

const worker = {
  /** @throws RangeError with a sentence where it cannot be laid */
  async lines(settings: LayoutSettings): Promise<LayoutLines> {
    const { geometry, kindOf } = await solveLayoutInTurns(settings, yieldToEventLoop);
    const { repeatMm, pieces } = geometry;
    const path = hatchOf(geometry, kindOf, 'full')
      .map(
        ({ points, closed }) =>
          points
            .map(([x, y], k) => `${k === 0 ? 'M' : 'L'}${number(x)} ${number(repeatMm.height - y)}`)
            .join('') + (closed ? 'Z' : ''),
      )
      .join('');
    return { repeatMm, path, pieces: pieces.length, typical: typicalPiece(geometry) };
  },

  /** @throws RangeError with a sentence where it cannot be laid, or the field cannot be counted */
  async field(
    settings: LayoutSettings,
    fieldMm: { width: number; height: number },
    settingOutPoint: SettingOutPoint,
  ): Promise<FieldTakeOff> {
    const { geometry } = await solveLayoutInTurns(settings, yieldToEventLoop);
    return takeOffOfField(geometry, fieldMm, settingOutPoint);
  },
};

/** The piece whose dimensions are drawn: whole in the repeat, a third from its left and its top. */
function typicalPiece({ pieces, repeatMm, laid }: LayoutGeometry): LayoutLines['typical'] {
  let best: LayoutLines['typical'] = null;
  let nearest = Infinity;
  for (const { outline, directionDeg, centre } of pieces) {
    if (directionDeg % 90 !== 0 || outline.length !== 4) continue;
    const box = boxOf(outline);
    if (box.left < 0 || box.right > repeatMm.width || box.bottom < 0 || box.top > repeatMm.height) continue;
    const off = Math.hypot(centre[0] - repeatMm.width / 3, centre[1] - (2 * repeatMm.height) / 3);
    if (off >= nearest) continue;
    nearest = off;
    const lying = directionDeg % 180 === 0;
    const { alongMm, acrossMm } = laid.joint;
    best = {
      piece: {
        left: box.left,
        right: box.right,
        top: repeatMm.height - box.top,
        bottom: repeatMm.height - box.bottom,
        lying,
      },
      joint: lying ? { right: acrossMm, below: alongMm } : { right: alongMm, below: acrossMm },
    };
  }
  return best;
}

export type LayoutWorker = typeof worker;
expose(worker);
