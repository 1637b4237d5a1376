export { deflateZlib, inflatePredicted, inflateZlib, unpredictBytes, type InflateFault } from './wasm';
