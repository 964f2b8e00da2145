export * from './scene';
export { buildTriangles, type Triangles } from './tracer/bvh';
export { tracedFinish, type FinishMaps, type TracedFinish } from './tracer/material';
export { PathTracer, type Gathered, type Shot, type TracedScene } from './tracer/tracer';
export { smoothed } from './tracer/smooth';
export { exposureOf, exposureWith, readCard } from './meter';
