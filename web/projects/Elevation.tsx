import { swatchUrl } from '../app/api';
import type { Surface } from './project-api';
import { useAppSelector } from '../app/store';

export const ELEVATION_SCALE = 50;

/** A surface drawn at 1:50 with its finish at true scale, so that rooms can be compared at a glance. */
export function Elevation({ surface, mostPx }: { surface: Surface; mostPx: { w: number; h: number } }) {
  const pxPerMm = useAppSelector((s) => s.settings.screenPxPerMm) / ELEVATION_SCALE;
  // Drawn through a window; what is larger is cut off.
  const [w, h] = [
    Math.min(mostPx.w, surface.widthMm * pxPerMm),
    Math.min(mostPx.h, surface.heightMm * pxPerMm),
  ];
  const { finish, mapping } = surface;
  if (!finish || !mapping)
    return <div style={{ width: w, height: h, border: '1px dashed #8A8A8A' }} aria-hidden="true" />;
  const turned = surface.directionDeg % 180 !== 0;
  const [rw, rh] = turned
    ? [mapping.repeatMm.height, mapping.repeatMm.width]
    : [mapping.repeatMm.width, mapping.repeatMm.height];
  const side = Math.max(w, h) * 1.5;
  return (
    <div
      style={{ width: w, height: h, overflow: 'hidden', position: 'relative', outline: '1px solid #8A8A8A' }}
      role="img"
      aria-label={`${surface.name} at 1:${ELEVATION_SCALE}`}
    >
      <div
        style={{
          position: 'absolute',
          left: (w - side) / 2,
          top: (h - side) / 2,
          width: side,
          height: side,
          transform: `rotate(${-surface.directionDeg}deg)`,
          backgroundImage: `url("${swatchUrl(finish.id, '', 256, finish.revision, finish.way?.id)}")`,
          backgroundSize: `${rw * pxPerMm}px ${rh * pxPerMm}px`,
        }}
      />
    </div>
  );
}
