export {
  deflateZlib,
  inflatePredicted,
  inflateZlib,
  unhuffmanWords,
  unpackSamples,
  unpredictBytes,
  type ChunkCoding,
  type CodecFault,
} from './wasm';
