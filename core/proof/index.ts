export * from './scene';
export { buildTriangles, triangleSteps, type Triangles } from './tracer/bvh';
export { tracedFinish, type FinishMaps, type TracedFinish } from './tracer/material';
export { PathTracer, type Gathered, type Shot, type TracedScene } from './tracer/tracer';
export { smoothed, smoothingSteps } from './tracer/smooth';
export { exposureOf, exposureWith, readCard } from './meter';
