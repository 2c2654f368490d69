/** The kernels, and the folder of the core that each belongs to. */
export const KERNELS: Readonly<Record<string, string>>;
/** The compiled bytes of a kernel. @throws Error with the words of the compiler. */
export function compileKernel(name: string): Uint8Array;
