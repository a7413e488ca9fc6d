/**
 * Says what is seen in a picture: people, animals, vehicles. The one that ships is a MobileNetV3 CenterNet of the 80 COCO classes
 * (Zhou et al. 2019, "Objects as Points"), whose weights lie in a package of the registry; it runs as WASM in this process.
 */
import { createRequire } from 'node:module';
import { readFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import type { Kind } from '@glimbo/core/moving/moving';
import type { InView } from '@glimbo/core/recognise/views';

export interface Detector {
  /** Pixels of a side of the pictures that it is given. */
  side: number;
  /** What is seen in a picture: R, G and B of each pixel, 0 to 255, row by row from above. */
  recognise(rgb: Float32Array): Promise<InView[]>;
}

const SIDE = 512;
/** What is less like its class than this is not told. */
const LEAST = 0.3;
/** The output with boxes: 100 rows of left, top, right, bottom in pixels, likeness and class. */
const OUTPUT = 'tower_0/detections';

/** What a class of COCO is for us: of others nothing is said. */
const kindOf = (name: number): Kind | null =>
  name === 0 ? 'person' : name >= 1 && name <= 8 ? 'vehicle' : name >= 14 && name <= 23 ? 'animal' : null;

/** Boxes as the network gives them, as far as they are of a kind. */
export function inViewOf(rows: readonly (readonly number[])[]): InView[] {
  return rows.flatMap(([left, top, right, bottom, likeness, name]) => {
    const kind = kindOf(name!);
    const isBox = right! > left! && bottom! > top!;
    return kind && likeness! >= LEAST && isBox
      ? [{ kind, likeness: likeness!, left: left!, top: top!, right: right!, bottom: bottom! }]
      : [];
  });
}

/** The detector that ships; null where its packages, which are optional, are not installed. */
export async function shippedDetector(): Promise<Detector | null> {
  try {
    return await load();
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (code === 'ERR_MODULE_NOT_FOUND' || code === 'MODULE_NOT_FOUND' || code === 'ENOENT') return null;
    throw error;
  }
}

async function load(): Promise<Detector> {
  const { resolve } = createRequire(import.meta.url);
  const models = join(dirname(resolve('@vladmandic/human')), '..', 'models');
  const [tf, wasm, { loadGraphModel }] = await Promise.all([
    import('@tensorflow/tfjs-core'),
    import('@tensorflow/tfjs-backend-wasm'),
    import('@tensorflow/tfjs-converter'),
  ]);
  wasm.setWasmPaths(`${dirname(resolve('@tensorflow/tfjs-backend-wasm'))}/`);
  await tf.setBackend('wasm');
  const { modelTopology, weightsManifest } = JSON.parse(await readFile(join(models, 'centernet.json'), 'utf8'));
  const weights = await readFile(join(models, 'centernet.bin'));
  const model = await loadGraphModel({
    load: async () => ({
      modelTopology,
      weightSpecs: weightsManifest.flatMap((group: { weights: object[] }) => group.weights),
      weightData: new Uint8Array(weights).buffer,
    }),
  });
  return {
    side: SIDE,
    async recognise(rgb) {
      const picture = tf.tensor4d(rgb, [1, SIDE, SIDE, 3]);
      const seen = model.execute(picture, OUTPUT) as ReturnType<typeof tf.tensor3d>;
      const [rows] = (await seen.array()) as number[][][];
      tf.dispose([picture, seen]);
      return inViewOf(rows!);
    },
  };
}
