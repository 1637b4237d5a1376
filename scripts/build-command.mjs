// Builds what the command line needs, without a word: the kernels, then the bundle.
import { bundleNode } from './bundle.mjs';
import { makeKernels } from './prepare.mjs';

export async function buildCommand() {
  await makeKernels();
  await bundleNode();
}
