import { cardInPicture, type GlarePlace, type TargetFit } from '@jossel/core/light';
import { CARD_PATCHES, type Frame, type PictureShape, type Point } from '@jossel/core/straighten';
import type { PictureSource } from '@jossel/core/sources';
import { useMemo } from 'react';
import { useAppSelector } from '../../../app/store';
import { pathOf, type PlaceView } from '../handles/place-view';
import { Outline } from './SampleOverlay';

/** Over the sample while its light and colour are worked on: glare, what is filled, the grey patch, the card's patches. */
export function ColourTools({
  source,
  sample,
  frame,
  glare,
  fit,
  view,
}: {
  source: PictureSource;
  sample: PictureShape;
  frame: Frame;
  glare: readonly GlarePlace[];
  fit: TargetFit | null;
  view: PlaceView;
}) {
  const tool = useAppSelector((s) => s.bench.colourTool);
  const { fills, balance, grey } = source.light;
  const card = source.size?.card ?? null;
  const patches = useMemo(() => {
    if (!card) return [];
    const place = cardInPicture(sample, frame.bow, card.marks);
    return CARD_PATCHES.map((p) => {
      const [l, t, r, b] = [p.leftMm, p.topMm, p.leftMm + p.widthMm, p.topMm + p.heightMm];
      const corners: Point[] = [
        [l, t],
        [r, t],
        [r, b],
        [l, b],
      ];
      return { name: p.name, outline: corners.map(place) };
    });
  }, [card, sample, frame.bow]);
  if (tool === 'light')
    return (
      <>
        {glare.map((p, n) => (
          <Outline key={n} view={view} places={p.points} />
        ))}
        {fills.map((f) => (
          <Outline key={f.id} view={view} places={f.points} dashes="2 3" />
        ))}
      </>
    );
  if (tool !== 'balance') return null;
  return (
    <>
      {balance === 'card' &&
        patches.map(({ name, outline }) => {
          const error = fit?.patches.find((p) => p.name === name);
          const worst = fit?.worst.name === name;
          return (
            <path
              key={name}
              d={pathOf(view, outline, true)}
              fill="none"
              stroke={worst ? '#A6281C' : '#FFFFFF'}
              strokeWidth={worst ? 2.4 : 0.8}
              strokeDasharray={error?.leftOut ? '2 3' : undefined}
            >
              <title>{error ? `${name}: ΔE00 ${error.after.toFixed(2)}` : name}</title>
            </path>
          );
        })}
      {balance === 'grey' && grey && (
        <Outline
          view={view}
          places={Array.from({ length: 40 }, (_, k): Point => {
            const long = Math.max(sample.widthPx, sample.heightPx);
            const a = (k * Math.PI) / 20;
            return [
              grey.at[0] + (grey.radius * long * Math.cos(a)) / sample.widthPx,
              grey.at[1] + (grey.radius * long * Math.sin(a)) / sample.heightPx,
            ];
          })}
        />
      )}
    </>
  );
}
