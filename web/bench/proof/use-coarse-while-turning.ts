import { useFrame } from '@react-three/fiber';
import { useCallback, useEffect, useRef } from 'react';

/** A frame may take this long for the turning to be smooth, ms. */
const SMOOTH_MS = 33;
/** One that takes this long is slow. */
const SLOW_MS = 50;
/** Least share of the resolution on each axis. */
const LEAST_SHARE = 0.4;
/** Frames further apart than this do not belong to one movement. */
const PAUSE_MS = 2000;
/** Without a frame for so long, the view is still. */
const STILL_MS = 600;

/**
 * Draws with fewer pixels while the view is turned on a machine that is slow at it, and with all of them once it is still.
 * @param onShare takes the share of the resolution on each axis
 * @returns to be called each time that the view was turned
 */
export function useCoarseWhileTurning(onShare: (share: number) => void): () => void {
  const paced = useRef({ share: 1, lastFrame: 0, timer: 0 });
  const setShare = useCallback(
    (share: number) => {
      if (share === paced.current.share) return;
      paced.current.share = share;
      onShare(share);
    },
    [onShare],
  );
  const untilStill = useCallback(() => {
    const at = paced.current;
    window.clearTimeout(at.timer);
    at.timer = window.setTimeout(() => {
      at.timer = 0;
      setShare(1);
    }, STILL_MS);
  }, [setShare]);
  useEffect(() => () => window.clearTimeout(paced.current.timer), []);
  useFrame(() => {
    const at = paced.current;
    const now = performance.now();
    const ms = now - at.lastFrame;
    at.lastFrame = now;
    if (at.timer === 0) return;
    untilStill();
    if (ms < SLOW_MS || ms > PAUSE_MS) return;
    // What is drawn takes about as long as there are pixels. A new size takes time as well: small steps are not worth it.
    const share = Math.max(LEAST_SHARE, at.share * Math.sqrt(SMOOTH_MS / ms));
    if (share < 0.8 * at.share) setShare(share);
  });
  return untilStill;
}
