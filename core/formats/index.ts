export * from './gltf';
export * from './manifest';
export * from './names';
export * from './colour-reference';
export * from './hatch-svg';
export * from './hatch-dxf';
export * from './layout-files';
export * from './light-list';
