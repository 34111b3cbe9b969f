// npm run kernels: compiles the WebAssembly kernels of the core and writes them beside their source.
import { readdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './packages.mjs';

const folder = join(root, 'core/src/numeric/kernels');

/** The bytes that a kernel's source compiles to. */
export async function compileKernel(file) {
  const { default: compiler } = await import('assemblyscript/asc');
  let binary;
  const { error, stderr } = await compiler.main(
    [
      file,
      '--outFile',
      'kernel.wasm',
      '-O3',
      '--runtime',
      'stub',
      '--enable',
      'simd',
      '--importMemory',
      '--noAssert',
    ],
    {
      writeFile: (name, content) => {
        if (name.endsWith('.wasm')) binary = content;
      },
    },
  );
  if (error) throw new Error(`${file} does not compile:\n${stderr.toString()}`);
  return Buffer.from(binary);
}

if (process.argv[1]?.endsWith('kernels.mjs'))
  for (const name of readdirSync(folder).filter((file) => file.endsWith('.as.ts'))) {
    const bytes = await compileKernel(join(folder, name));
    const target = name.replace('.as.ts', '.wasm.ts');
    writeFileSync(
      join(folder, target),
      `// Made of ${name} by npm run kernels.\nexport const wasm =\n  '${bytes.toString('base64')}';\n`,
    );
    console.log(`${target}: ${bytes.length} bytes`);
  }
