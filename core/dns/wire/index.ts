export * from './message'
export { frame, FrameReader } from './stream'
export * from './tsig'
export * from './update'
