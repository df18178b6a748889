/** Requirements about what is drawn: which devices, how many, where, of what kit, in what shape. */
export * from './devices';
export * from './kit';
export * from './starter';
