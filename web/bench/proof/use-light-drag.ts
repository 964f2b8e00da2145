import { useRef } from 'react';
import type { TurnedLight } from '@jossel/core/proof';

/** How far the light turns for each pixel of a drag. */
const DEG_PER_PX = 0.5;

/** Turns the light by dragging with Shift. */
export function useLightDrag(onTurn: (light: TurnedLight) => void, light: TurnedLight) {
  const end = () => {
    from.current = null;
  };
  const from = useRef<{ x: number; y: number; light: TurnedLight } | null>(null);
  return {
    onPointerDownCapture: (e: React.PointerEvent) => {
      if (!e.shiftKey || e.button !== 0) return;
      // The view is not turned at the same time.
      e.stopPropagation();
      e.preventDefault();
      e.currentTarget.setPointerCapture(e.pointerId);
      from.current = { x: e.clientX, y: e.clientY, light };
    },
    onPointerMoveCapture: (e: React.PointerEvent) => {
      if (!from.current) return;
      e.stopPropagation();
      const { x, y, light: began } = from.current;
      const azimuthDeg = (((began.azimuthDeg - DEG_PER_PX * (e.clientX - x)) % 360) + 360) % 360;
      const elevationDeg = Math.min(90, Math.max(3, began.elevationDeg - DEG_PER_PX * (e.clientY - y)));
      onTurn({ ...began, azimuthDeg: Math.round(azimuthDeg), elevationDeg: Math.round(elevationDeg) });
    },
    onPointerUpCapture: end,
    onPointerCancelCapture: end,
  };
}
