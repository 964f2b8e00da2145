export * from './fresnel';
export * from './glossmeter';
export * from './settings';
export * from './stage';
