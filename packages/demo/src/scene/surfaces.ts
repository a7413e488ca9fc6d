/** Textures and materials of the demo world, painted by code from a seeded generator. */
import * as THREE from 'three';
import { seededRandom } from '@glimbo/core/random';

export function painted(
  size: number,
  repeat: number,
  paint: (g: CanvasRenderingContext2D, size: number, random: () => number) => void,
  seed = 7,
): THREE.CanvasTexture {
  const canvas = document.createElement('canvas');
  canvas.width = canvas.height = size;
  paint(canvas.getContext('2d')!, size, seededRandom(seed));
  const texture = new THREE.CanvasTexture(canvas);
  texture.wrapS = texture.wrapT = THREE.RepeatWrapping;
  texture.repeat.set(repeat, repeat);
  texture.anisotropy = 2;
  texture.colorSpace = THREE.SRGBColorSpace;
  return texture;
}

/** Speckles of several colours over a base: grass, gravel, bark. */
export function speckled(
  base: string,
  colours: string[],
  count: number,
  spot: [number, number],
  repeat: number,
  seed = 3,
) {
  return painted(512, repeat, (g, size, random) => {
    g.fillStyle = base;
    g.fillRect(0, 0, size, size);
    for (let i = 0; i < count; i++) {
      g.fillStyle = colours[Math.floor(random() * colours.length)]!;
      g.globalAlpha = 0.25 + random() * 0.5;
      const w = spot[0] + random() * (spot[1] - spot[0]);
      const x = random() * size;
      const y = random() * size;
      for (const dx of [0, -size]) for (const dy of [0, -size]) g.fillRect(x + dx, y + dy, w, w * (0.6 + random()));
    }
  }, seed); // prettier-ignore
}

export function bricks(base: string, mortar: string, tones: string[], rows: number, repeat: number) {
  return painted(256, repeat, (g, size, random) => {
    g.fillStyle = mortar;
    g.fillRect(0, 0, size, size);
    const h = size / rows;
    const w = h * 2.1;
    for (let r = 0; r < rows; r++)
      for (let x = -w; x < size + w; x += w) {
        g.fillStyle = random() < 0.6 ? base : tones[Math.floor(random() * tones.length)]!;
        g.fillRect(x + (r % 2) * (w / 2), r * h, w - 2, h - 2);
      }
  });
}

export const matte = (color: THREE.ColorRepresentation, map: THREE.Texture | null = null) =>
  new THREE.MeshLambertMaterial({ color, map });
export const glossy = (color: THREE.ColorRepresentation) =>
  new THREE.MeshPhongMaterial({ color, shininess: 60, specular: 0x555555 });

/** Adds a mesh with shadows and returns it. Positions are in Glimbo's axes (z ahead). */
export function put<M extends THREE.Material>(
  parent: THREE.Object3D,
  geometry: THREE.BufferGeometry,
  material: M,
  x = 0,
  y = 0,
  z = 0,
  turn = 0,
): THREE.Mesh<THREE.BufferGeometry, M> {
  const mesh = new THREE.Mesh(geometry, material);
  mesh.position.set(x, y, -z);
  mesh.rotation.y = -turn;
  mesh.castShadow = mesh.receiveShadow = true;
  parent.add(mesh);
  return mesh;
}

/** A group at a place in Glimbo's axes, turned by a heading in radians (positive to the right). */
export function group(parent: THREE.Object3D, x: number, y: number, z: number, heading = 0): THREE.Group {
  const g = new THREE.Group();
  g.position.set(x, y, -z);
  g.rotation.y = -heading;
  parent.add(g);
  return g;
}
