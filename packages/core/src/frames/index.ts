export * from './frames';
export { type Field, type Header, bytesOf, internetChecksum } from './header';
export * from './pcap';
