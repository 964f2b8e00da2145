import { useCallback, useMemo } from 'react';
import { drawContinuityLines, drawKeepOuts, type Mark, type Preparation } from '@jossel/core/sample';
import type { Frame } from '@jossel/core/straighten';
import type { ShownPart } from '../../../workers/sample.worker';
import type { Placed } from '../RuledView';
import { paintPart, paintTint } from './overlay';

/** Longer side of tints, px: they are drawn enlarged over the picture. */
const TINT_PX = 700;

/** The picture of a sample with what is marked on it, painted under the handles. */
export function useSampleTints({
  canvas,
  marks: { keepOuts, continuityLines },
  drawn,
  part,
  frame,
  fieldMm,
}: {
  canvas: CanvasImageSource | null;
  marks: Pick<Preparation, 'keepOuts' | 'continuityLines'>;
  /** A keep-out that is being drawn. */
  drawn: Mark | null;
  /** The part in hand, by its weight. */
  part: ShownPart | null;
  /** The frame by which marks lie over what is shown. */
  frame: Frame;
  fieldMm: { width: number; height: number };
}) {
  const { width, height } = fieldMm;
  const tints = useMemo(() => {
    const marks = drawn ? [...keepOuts, drawn] : keepOuts;
    const scale = TINT_PX / Math.max(width, height);
    const [w, h] = [Math.max(8, Math.round(width * scale)), Math.max(8, Math.round(height * scale))];
    return {
      keepOuts: marks.length > 0 ? paintTint(drawKeepOuts(frame, marks, w, h), 'hatch') : null,
      continuityLines:
        continuityLines.length > 0
          ? paintTint(drawContinuityLines(frame, continuityLines, w, h), 'dots')
          : null,
    };
  }, [keepOuts, continuityLines, drawn, frame, width, height]);
  const partTint = useMemo(() => (part ? paintPart(part) : null), [part]);
  return useCallback(
    (context: CanvasRenderingContext2D, { left, top, pxPerMm }: Placed, dpr: number) => {
      const rect = [left * dpr, top * dpr, width * pxPerMm * dpr, height * pxPerMm * dpr] as const;
      for (const layer of [canvas, partTint, tints.continuityLines, tints.keepOuts])
        if (layer) context.drawImage(layer, ...rect);
    },
    [canvas, tints, partTint, width, height],
  );
}
