import { parentPort } from 'node:worker_threads';
import { NOISE_ROWS } from '@jossel/core/generate';
import { READINGS, REFLECTED } from '@jossel/core/photometric';
import { OCCLUSION } from '@jossel/core/relief';
import { help, type HelpMessage } from '@jossel/core/shared-rows';

/** A thread that helps a computing thread with the rows of large pictures. */

const TASKS = [NOISE_ROWS, OCCLUSION, READINGS, REFLECTED];

parentPort!.on('message', (message: HelpMessage) => help(TASKS, message));
