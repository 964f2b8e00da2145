/**
 * Runs a Node program and starts it again when it dies, after a delay that grows while it keeps dying.
 * Usage: node script/supervise.mjs PROGRAM [ARGUMENTS…]
 * The program is ended with this one, whatever ends it: it leaves when the channel between them closes. This one ends with
 * whoever has started it.
 */
import { fork } from 'node:child_process';

/** Exit status of a program that would die again for the same reason: its settings or its database have to be seen to. */
const NOT_WORTH_STARTING = 2;
const FIRST_DELAY_MS = 1000;
const LONGEST_DELAY_MS = 60_000;
/** Having run for so long, it is taken to be well again. */
const WELL_AFTER_MS = 120_000;

const [program, ...args] = process.argv.slice(2);
const say = (message) => process.stderr.write(`${new Date().toISOString()} ${message}\n`);
let child;
let ending = false;
let delayMs = FIRST_DELAY_MS;

function start() {
  const started = Date.now();
  child = fork(program, args, { stdio: ['ignore', 'inherit', 'inherit', 'ipc'] });
  child.on('exit', (status, signal) => {
    if (ending || status === 0 || status === NOT_WORTH_STARTING) process.exit(status ?? 0);
    if (Date.now() - started > WELL_AFTER_MS) delayMs = FIRST_DELAY_MS;
    say(`${program} ended (${signal ?? status}); it is started again in ${delayMs / 1000} s`);
    setTimeout(start, delayMs);
    delayMs = Math.min(LONGEST_DELAY_MS, 2 * delayMs);
  });
}

function end() {
  if (ending) return;
  ending = true;
  // One that is between two starts has nothing to end.
  if (!child || child.exitCode !== null || child.signalCode !== null) process.exit(0);
  child.kill('SIGTERM');
  setTimeout(() => {
    child.kill('SIGKILL');
    process.exit(1);
  }, 8000).unref();
}
// Whoever has started this one may be killed without a word: it is then another process's child.
const startedBy = process.ppid;
setInterval(() => process.ppid !== startedBy && end(), 1000).unref();
process.on('SIGTERM', end);
process.on('SIGINT', end);
start();
