export * from './fresnel';
export * from './glossmeter';
