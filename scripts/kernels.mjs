// Compiles the WebAssembly kernels and writes each as a module of the core, so that it needs no file at run time.
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import asc from 'assemblyscript/asc';
import { butterflies } from './butterflies.mjs';
import { root } from './prepare.mjs';

const SHARED_MEMORY = ['--importMemory', '--sharedMemory', '--maximumMemory', '65536', '--enable', 'threads'];
/** Every kernel, and what its compilation needs besides the usual. */
const KERNELS = { zip: [], scatter: SHARED_MEMORY, convolution: SHARED_MEMORY };
const OUT = 'src/core/kernels/generated';

/** Compiles every kernel. Throws with the compiler's words if one does not compile. */
export async function buildKernels() {
  mkdirSync(join(root, OUT), { recursive: true });
  for (const [name, options] of Object.entries(KERNELS)) {
    const outputs = {};
    const { error, stderr } = await asc.main(
      [
        `kernels/${name}/index.ts`,
        '--outFile',
        'kernel.wasm',
        '-O3',
        '--runtime',
        'stub',
        '--enable',
        'simd',
        '--noAssert',
        ...options,
      ],
      {
        baseDir: root,
        readFile: readSource,
        writeFile: (file, content) => {
          outputs[file] = content;
        },
      },
    );
    if (error) throw new Error(`kernel ${name}: ${error.message}\n${stderr.toString()}`);
    writeModule(name, outputs['kernel.wasm'], `kernels/${name}`);
  }
  // The JPEG decoder comes compiled; it travels in the same way.
  const jpeg = 'node_modules/@jsquash/jpeg/codec/dec/mozjpeg_dec.wasm';
  writeModule('jpeg', readFileSync(join(root, jpeg)), 'the package @jsquash/jpeg');
}

/** Sources as they lie on disk, but for what is made by a script. */
function readSource(file, base) {
  if (file === 'kernels/convolution/butterflies.ts') return butterflies();
  const path = join(base, file);
  return existsSync(path) ? readFileSync(path, 'utf8') : null;
}

function writeModule(name, wasm, source) {
  const base64 = Buffer.from(wasm).toString('base64');
  writeFileSync(
    join(root, OUT, `${name}.ts`),
    `/** From ${source}. Made by \`npm run kernels\`; do not edit. */\nexport const WASM =\n  '${base64}';\n`,
  );
}

if (import.meta.url === pathToFileURL(process.argv[1] ?? '').href) await buildKernels();
