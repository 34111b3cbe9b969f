export * from './findings/index.ts';
export * from './describe/index.ts';
export * from './associate/index.ts';
export * from './relate/index.ts';
export * from './patients/index.ts';
export * from './views/index.ts';
export * from './unusual/index.ts';
