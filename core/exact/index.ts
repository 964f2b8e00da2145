export { power, squared, wholePower } from './power';
