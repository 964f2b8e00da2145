/**
 * Pictures for tests, painted by arithmetic alone. Hashes of stored recipes depend on what `brickwork` and `boardFloor` paint:
 * they stay as they are, while generated finishes get better with the versions of their stage.
 */
export { brickwork } from './brickwork';
export { boardFloor } from './board-floor';
export { rgb } from './surface';
export { paintedFamily } from './generated';
export { halfLikeMm } from './likeness';
export { coursesOfFloor, FLOOR_ENDS, FLOOR_MM, knownFloor, standing } from './known-floor';
export { onePicture } from './one-picture';
