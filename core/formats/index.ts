export * from './gltf';
export * from './manifest';
export * from './names';
