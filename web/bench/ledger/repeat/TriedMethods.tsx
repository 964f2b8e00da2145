import { useEffect, useRef } from 'react';
import styled from 'styled-components';
import { dissimilarShare } from '@jossel/core/finish';
import { printNumber } from '@jossel/core/units';
import { Button } from '../../../controls/basics';
import type { ShownMethod } from '../../../workers/render.worker';
import { tileOfPixels } from '../../plate/tile';

const Pair = styled.div`
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
  figure {
    margin: 0;
    display: grid;
    gap: 4px;
    align-content: start;
    font-size: 12px;
  }
  canvas {
    width: 100%;
    display: block;
    border: 1px solid ${({ theme }) => theme.line};
  }
  button,
  figcaption + span {
    justify-self: start;
    line-height: 24px;
  }
  /* Its words stand below those of the method. */
  button {
    margin-left: -11px;
  }
  strong {
    display: block;
    font-weight: 600;
  }
`;

/** Times that a repeat is shown side by side, so that its edges lie inside. */
const TIMES = 2;
const CANVAS_PX = 288;

/** The repeat of a method, several times over. */
function Repeated({ shown, name }: { shown: ShownMethod['shown']; name: string }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { widthPx, heightPx } = shown;
  const height = Math.round((CANVAS_PX * heightPx) / widthPx);
  useEffect(() => {
    const context = canvas.current!.getContext('2d')!;
    const pattern = context.createPattern(tileOfPixels(shown), 'repeat')!;
    pattern.setTransform(new DOMMatrix().scale(CANVAS_PX / TIMES / widthPx));
    context.fillStyle = pattern;
    context.fillRect(0, 0, CANVAS_PX, height);
  }, [shown, widthPx, height]);
  return (
    <canvas
      ref={canvas}
      width={CANVAS_PX}
      height={height}
      role="img"
      aria-label={`${name}, ${TIMES} by ${TIMES} repeats`}
    />
  );
}

function inWords(method: ShownMethod): string {
  const { broken, pieces } = method;
  if (pieces > 0) return broken === 0 ? `all ${pieces} pieces whole` : `${broken} of ${pieces} pieces broken`;
  const percent = 100 * dissimilarShare(method);
  return percent < 0.05
    ? 'looks like the sample all over'
    : `${printNumber(percent, 1)}\u00a0% of it unlike the sample`;
}

/** The method that was suggested and the next best one, as they turn out; either is taken with one press. */
export function TriedMethods({
  tried,
  using,
  onUse,
}: {
  tried: readonly ShownMethod[];
  /** The one the finish uses now; null: another. */
  using: ShownMethod | null;
  onUse: (method: ShownMethod) => void;
}) {
  return (
    <Pair role="group" aria-label="Methods that were tried">
      {tried.slice(0, 2).map((method) => (
        <figure key={method.name}>
          <Repeated shown={method.shown} name={method.name} />
          <figcaption>
            <strong>{method.name}</strong>
            {inWords(method)}
          </figcaption>
          {method === using ? (
            <span>in use</span>
          ) : (
            <Button weight="quiet" onPress={() => onUse(method)} aria-label={`Use ${method.name}`}>
              Use it
            </Button>
          )}
        </figure>
      ))}
    </Pair>
  );
}
