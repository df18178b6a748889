/** Requirements about addresses: which blocks, which subnets, which address of a subnet, which gateway. */
export * from './blocks';
export * from './gateway';
export * from './hosts';
export * from './subnets';
