import { NOISE_ROWS } from '@jossel/core/generate';
import { OCCLUSION } from '@jossel/core/relief';
import { help, type HelpMessage } from '@jossel/core/shared-rows';

/** Helps a worker that computes finishes with the rows of large pictures. */

onmessage = ({ data }: MessageEvent<HelpMessage>) => help([NOISE_ROWS, OCCLUSION], data);
