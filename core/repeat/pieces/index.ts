export { brokenPieces, weightAt, whereCopiesMeet, type BrokenPiece, type PiecesJudged } from './broken';
