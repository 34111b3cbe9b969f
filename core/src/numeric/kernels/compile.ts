const compiled = new Map<string, WebAssembly.Module | null>();

/** A kernel from its bytes in base64; null where the machine cannot run it. */
export function compileWasm(wasm: string): WebAssembly.Module | null {
  const known = compiled.get(wasm);
  if (known !== undefined) return known;
  let found: WebAssembly.Module | null = null;
  try {
    found = new WebAssembly.Module(
      Uint8Array.from(atob(wasm), (character) => character.charCodeAt(0)),
    );
  } catch {
    // An old machine, or a page that forbids it: the plain twin does the work.
  }
  compiled.set(wasm, found);
  return found;
}

/** Bytes that a kernel's memory may have: beyond it, what works in arrays of its own takes its place. */
export const mostMemory = 2 ** 31;
