/** Where everything that can be followed truly is: direction, size and how much of it is seen, by rays into the scene. */
import * as THREE from 'three';
import { acceleratedRaycast, computeBoundsTree } from 'three-mesh-bvh';
import { apply, transpose, type Matrix3 } from '@glimbo/core/geometry/rotation';

/** Something with a name, made of one object or several. */
export interface Thing {
  name: string;
  objects: THREE.Object3D[];
}

/** One look at a thing: frame, unit direction in the frame's picture, degrees across, and the share of it that is seen. */
export type Look = [frame: number, x: number, y: number, z: number, size: number, seen: number];

/** Points of a thing to which rays go. */
const RAYS = 12;
const round = (v: number, digits: number) => Number(v.toFixed(digits));

/** The thing's vertices in the world. */
function verticesOf({ objects }: Thing): THREE.Vector3[] {
  const found: THREE.Vector3[] = [];
  for (const object of objects)
    object.traverse((o) => {
      if (!(o instanceof THREE.Mesh)) return;
      const positions = (o.geometry as THREE.BufferGeometry).attributes.position!;
      for (let i = 0; i < positions.count; i += 3)
        found.push(new THREE.Vector3().fromBufferAttribute(positions, i).applyMatrix4(o.matrixWorld));
    });
  return found;
}

/** Makes rays into a scene quick: what stands still in it gets a tree of boxes. */
export function preparedForRays(scene: THREE.Scene) {
  THREE.BufferGeometry.prototype.computeBoundsTree = computeBoundsTree;
  THREE.Mesh.prototype.raycast = acceleratedRaycast;
  scene.traverse((o) => {
    if (!(o instanceof THREE.Mesh) || o instanceof THREE.InstancedMesh) return;
    const geometry = o.geometry as THREE.BufferGeometry;
    // Nothing is drawn; where a triangle has no area, asking for its normal fails.
    for (const attribute of ['normal', 'uv']) geometry.deleteAttribute(attribute);
    geometry.computeBoundsTree();
  });
}

function belongs(object: THREE.Object3D | null, { objects }: Thing): boolean {
  for (let o = object; o; o = o.parent) if (objects.includes(o)) return true;
  return false;
}

/** Looks at a thing from a camera's position; the pose turns the frame's picture into the world. */
export function lookAt(
  scene: THREE.Scene,
  thing: Thing,
  position: readonly number[],
  pose: Matrix3,
  frame: number,
): Look {
  const eye = new THREE.Vector3(position[0], position[1], -position[2]!);
  const vertices = verticesOf(thing);
  const box = new THREE.Box3().setFromPoints(vertices);
  const middle = box.getCenter(new THREE.Vector3()).sub(eye).normalize();
  const across = 2 * Math.max(...vertices.map((v) => v.clone().sub(eye).angleTo(middle)));
  let seen = 0;
  for (let k = 0; k < RAYS; k++) {
    const to = vertices[Math.floor(((k + 0.5) / RAYS) * vertices.length)]!;
    const way = to.clone().sub(eye);
    const ray = new THREE.Raycaster(eye, way.clone().normalize(), 0.02, way.length() - 0.01);
    const hits = ray.intersectObjects(scene.children, true);
    const between = hits.find((h) => !belongs(h.object, thing));
    if (!between) seen++;
  }
  // The scene's axes have z behind, the picture's ahead.
  const [x, y, z] = apply(transpose(pose), [middle.x, middle.y, -middle.z]);
  return [frame, round(x, 5), round(y, 5), round(z, 5), round((across * 180) / Math.PI, 3), round(seen / RAYS, 2)];
}
