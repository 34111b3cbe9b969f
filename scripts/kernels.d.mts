/** The bytes that a kernel's source compiles to. */
export function compileKernel(file: string): Promise<Buffer>;
