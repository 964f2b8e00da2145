export { linearSolution, solveLinear } from './linear';
export { power, squared, wholePower } from './power';
