import 'reflect-metadata';

export * from './accounts';
export * from './courses';
export * from './documents';
export * from './labs';
export * from './problems';
export * from './route-path';
export * from './routes';
export * from './submissions';
