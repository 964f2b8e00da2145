export { brokenPieces, weightAt, whereCopiesMeet, type BrokenPiece, type PiecesJudged } from './broken';
export { labPlanes, segmented, segmentedByJoints, type JointLook, type Piece, type Pieces } from './segment';
