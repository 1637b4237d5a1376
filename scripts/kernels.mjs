// Compiles the WebAssembly kernels and writes each as a module of the core, so that it needs no file at run time.
import { existsSync, mkdirSync, readdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import asc from 'assemblyscript/asc';
import { butterflies } from './butterflies.mjs';
import { root } from './root.mjs';

const SHARED_MEMORY = ['--importMemory', '--sharedMemory', '--maximumMemory', '65536', '--enable', 'threads'];
const KERNELS = 'src/core/kernels';
const OUT = `${KERNELS}/generated`;

/** Compiles every kernel. Throws with the compiler's words if one does not compile. */
export async function buildKernels() {
  mkdirSync(join(root, OUT), { recursive: true });
  for (const name of readdirSync(join(root, KERNELS))) {
    const source = `${KERNELS}/${name}/assembly`;
    if (!existsSync(join(root, source))) continue;
    // A kernel with a plan works on memory that threads share.
    const plan =
      existsSync(join(root, source, 'plan.ts')) && readFileSync(join(root, source, 'plan.ts'), 'utf8');
    const outputs = {};
    const { error, stderr } = await asc.main(
      [
        `${source}/index.ts`,
        '--outFile',
        'kernel.wasm',
        '-O3',
        '--runtime',
        'stub',
        '--enable',
        'simd',
        '--noAssert',
        ...(plan ? SHARED_MEMORY : []),
      ],
      {
        readFile: (file) => readSource(file, root),
        writeFile: (file, content) => {
          outputs[file] = content;
        },
      },
    );
    if (error) throw new Error(`kernel ${name}: ${error.message}\n${stderr.toString()}`);
    writeModule(name, outputs['kernel.wasm'], source, plan ? fieldsOf(plan, name) : undefined);
  }
  // The JPEG decoder comes compiled; it travels in the same way.
  const jpeg = 'node_modules/@jsquash/jpeg/codec/dec/mozjpeg_dec.wasm';
  writeModule('jpeg', readFileSync(join(root, jpeg)), 'the package @jsquash/jpeg');
}

/** Sources as they lie on disk, but for what is made by a script. */
function readSource(file, base) {
  if (file.endsWith('convolution/assembly/butterflies.ts')) return butterflies();
  const path = join(base, file);
  return existsSync(path) ? readFileSync(path, 'utf8') : null;
}

/** The fields of a kernel's `class Plan`, by name. Every one takes four bytes. */
function fieldsOf(source, kernel) {
  const body = /class Plan \{([^}]*)\}/.exec(source)?.[1];
  if (body === undefined) throw new Error(`kernel ${kernel}: plan.ts has no class Plan`);
  const fields = body.replace(/\/\*[\s\S]*?\*\//g, '').matchAll(/(\w+):\s*(\w+);/g);
  return Object.fromEntries(
    [...fields].map(([, name = '', type = '']) => {
      if (!['i32', 'usize', 'f32'].includes(type))
        throw new Error(
          `kernel ${kernel}: field ${name} of its plan is ${type}; i32, usize or f32 is wanted`,
        );
      return [name, type === 'f32' ? 'float' : 'int'];
    }),
  );
}

function writeModule(name, wasm, source, fields) {
  const base64 = Buffer.from(wasm).toString('base64');
  const path = join(root, OUT, `${name}.ts`);
  // Written aside and moved into place, so that another process never reads half a file.
  writeFileSync(
    `${path}.${process.pid}`,
    `/** From ${source}. Made by \`npm run kernels\`; do not edit. */\nexport const WASM =\n  '${base64}';\n` +
      (fields ? `export const PLAN = ${JSON.stringify(fields)} as const;\n` : ''),
  );
  renameSync(`${path}.${process.pid}`, path);
}

if (import.meta.url === pathToFileURL(process.argv[1] ?? '').href) await buildKernels();
