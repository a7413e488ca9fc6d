/**
 * Joins everything that stands still into one mesh for each material and patch of ground: in software
 * each draw call and each vertex costs, and patches outside a cube face are skipped whole.
 */
import * as THREE from 'three';
import { mergeGeometries } from 'three/addons/utils/BufferGeometryUtils.js';

const PATCH = 6;

export function mergeStill(scene: THREE.Scene) {
  scene.updateMatrixWorld(true);
  const groups = new Map<string, { material: THREE.Material; shadow: boolean; parts: THREE.BufferGeometry[] }>();
  const done: THREE.Mesh[] = [];
  const add = (mesh: THREE.Mesh, geometry: THREE.BufferGeometry, material: THREE.Material) => {
    const { color, map } = material as { color?: THREE.Color; map?: THREE.Texture | null };
    geometry.computeBoundingSphere();
    const { center } = geometry.boundingSphere!;
    const patch = [Math.round(center.x / PATCH), Math.round(center.z / PATCH)];
    const key = [
      material.type,
      color?.getHexString(),
      map?.uuid,
      material.side,
      mesh.castShadow,
      material.vertexColors,
      patch,
    ].join();
    const entry = groups.get(key) ?? { material, shadow: mesh.castShadow, parts: [] };
    entry.parts.push(geometry);
    groups.set(key, entry);
  };
  scene.traverse((o) => {
    if (!(o instanceof THREE.Mesh) || Array.isArray(o.material)) return;
    const material = o.material as THREE.Material;
    if (material instanceof THREE.ShaderMaterial || material.transparent) return;
    const geometry = plain(o.geometry as THREE.BufferGeometry);
    if (o instanceof THREE.InstancedMesh) {
      const coloured = material.clone();
      coloured.vertexColors = o.instanceColor !== null;
      for (let i = 0; i < o.count; i++) add(o, instance(o, geometry, i), coloured);
    } else add(o, geometry.applyMatrix4(o.matrixWorld), material);
    done.push(o);
  });
  for (const mesh of done) mesh.removeFromParent();
  for (const { material, shadow, parts } of groups.values()) {
    const mesh = new THREE.Mesh(mergeGeometries(parts)!, material);
    mesh.castShadow = shadow;
    mesh.receiveShadow = true;
    scene.add(mesh);
  }
}

function instance(mesh: THREE.InstancedMesh, geometry: THREE.BufferGeometry, i: number): THREE.BufferGeometry {
  const matrix = new THREE.Matrix4();
  mesh.getMatrixAt(i, matrix);
  const part = geometry.clone().applyMatrix4(matrix);
  if (mesh.instanceColor) {
    const colour = new THREE.Color();
    mesh.getColorAt(i, colour);
    const count = part.attributes.position!.count;
    const colours = new Float32Array(count * 3);
    for (let k = 0; k < count; k++) colour.toArray(colours, k * 3);
    part.setAttribute('color', new THREE.BufferAttribute(colours, 3));
  }
  return part;
}

/** A copy without an index and with just the attributes that all shapes share. */
function plain(geometry: THREE.BufferGeometry): THREE.BufferGeometry {
  const copy = geometry.index ? geometry.toNonIndexed() : geometry.clone();
  for (const name of Object.keys(copy.attributes))
    if (!['position', 'normal', 'uv'].includes(name)) copy.deleteAttribute(name);
  if (!copy.attributes.uv) {
    const count = copy.attributes.position!.count;
    copy.setAttribute('uv', new THREE.Float32BufferAttribute(new Float32Array(count * 2), 2));
  }
  return copy;
}
