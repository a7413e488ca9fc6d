/** Memory of the motion analysis's WASM module: pieces are claimed one after the other, and then it is as large as they are together. */

/** Below this the module keeps its own constants and stack. */
export const RESERVED = 16384;

export class ModuleRoom {
  private end = RESERVED;

  /** Where so many bytes begin, a multiple of 16. */
  claim(bytes: number): number {
    const at = this.end;
    this.end += Math.ceil(bytes / 16) * 16;
    return at;
  }

  /** The module beside memory for all that was claimed, and for `more` bytes. */
  async start<Exports>(module: WebAssembly.Module, more = 0): Promise<{ memory: WebAssembly.Memory; wasm: Exports }> {
    const pages = Math.ceil((this.end + more) / 65536);
    const memory = new WebAssembly.Memory({ initial: pages, maximum: pages });
    const { exports } = await WebAssembly.instantiate(module, { env: { memory } });
    return { memory, wasm: exports as unknown as Exports };
  }
}

/** What turnPlanes needs of a plane `columns` wide: sines, then cosines of its columns' longitudes, 8 bytes a column. */
export function writeAxes(memory: WebAssembly.Memory, at: number, columns: number): void {
  const axes = new Float32Array(memory.buffer, at, 2 * columns);
  for (let x = 0; x < columns; x++) {
    const longitude = ((x + 0.5) / columns - 0.5) * 2 * Math.PI;
    axes[x] = Math.sin(longitude);
    axes[columns + x] = Math.cos(longitude);
  }
}
