import { parentPort } from 'node:worker_threads';
import { READINGS } from '@jossel/core/photometric';
import { OCCLUSION } from '@jossel/core/relief';
import { help, type HelpMessage } from '@jossel/core/shared-rows';

/** A thread that helps a computing thread with the rows of large pictures. */

const TASKS = [OCCLUSION, READINGS];

parentPort!.on('message', (message: HelpMessage) => help(TASKS, message));
