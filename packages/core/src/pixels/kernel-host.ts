/** WebAssembly as far as it is used here; the core has no types of any host. */
interface WebAssemblyHost {
  Module: new (bytes: Uint8Array) => object;
  Instance: new (module: object, imports?: object) => { exports: object };
}

/** What every kernel exports. */
export interface KernelMemory {
  readonly memory: { readonly buffer: ArrayBuffer; grow(pages: number): number };
}

const PAGE = 65536;

/** Compiled modules by their text; null where WebAssembly or its SIMD is missing. */
const compiled = new Map<string, object | null>();

function compileOnce(text: string): object | null {
  const there = compiled.get(text);
  if (there !== undefined) return there;
  const host = (globalThis as { WebAssembly?: WebAssemblyHost }).WebAssembly;
  let module: object | null = null;
  try {
    module = host ? new host.Module(fromBase64(text)) : null;
  } catch {
    // Without SIMD the module is refused; the plain ways do the same.
  }
  compiled.set(text, module);
  return module;
}

/**
 * A kernel with memory of its own.
 * @param text WebAssembly as base 64, as `npm run make-kernel` writes it.
 * @returns null where it cannot run.
 */
export function startKernel<Kernel extends KernelMemory>(text: string): Kernel | null {
  const module = compileOnce(text);
  if (!module) return null;
  const host = (globalThis as unknown as { WebAssembly: WebAssemblyHost }).WebAssembly;
  return new host.Instance(module, {}).exports as unknown as Kernel;
}

/** Makes the memory at least so large; arrays over it must be made afterwards. */
export function growKernel({ memory }: KernelMemory, bytes: number): void {
  const missing = bytes - memory.buffer.byteLength;
  if (missing > 0) memory.grow(Math.ceil(missing / PAGE));
}

const DIGITS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/';

/** Base 64 (RFC 4648, 4) to bytes; the core may use neither Buffer nor atob. */
function fromBase64(text: string): Uint8Array {
  const valueOfDigit = new Uint8Array(128);
  for (let value = 0; value < DIGITS.length; value++) valueOfDigit[DIGITS.charCodeAt(value)] = value;
  const values = new Uint8Array(text.replace(/=+$/, '').length);
  for (let i = 0; i < values.length; i++) values[i] = valueOfDigit[text.charCodeAt(i)];
  const bytes = new Uint8Array((values.length * 6) >> 3);
  for (let i = 0, bits = 0, pending = 0, at = 0; i < values.length; i++) {
    pending = (pending << 6) | values[i];
    bits += 6;
    if (bits >= 8) {
      bits -= 8;
      bytes[at++] = (pending >> bits) & 255;
      pending &= (1 << bits) - 1;
    }
  }
  return bytes;
}
