/** The footbridge over the pond: boards on an arch, with posts and rails. */
import * as THREE from 'three';
import { FOOTBRIDGE, footbridgeHeight } from '../motion.js';
import { matte, put, speckled } from './surfaces.js';

const BOARDS = 26;

export function buildFootbridge(scene: THREE.Scene) {
  const { x, z, length, width } = FOOTBRIDGE;
  const wood = matte(0xffffff, speckled('#b58a5a', ['#9c744a', '#c79c6b', '#8a653f'], 2400, [1, 7], 2));
  const paint = matte(0xb3352a);
  const slope = (east: number) => Math.atan2(footbridgeHeight(east + 0.02) - footbridgeHeight(east - 0.02), 0.04);
  for (let i = 0; i < BOARDS; i++) {
    const east = ((i + 0.5) / BOARDS - 0.5) * length;
    const board = put(scene, new THREE.BoxGeometry(0.105, 0.03, width), wood, x + east, footbridgeHeight(east), z);
    board.rotation.z = slope(east);
  }
  for (const side of [-1, 1])
    for (let i = 0; i <= 8; i++) {
      const east = (i / 8 - 0.5) * length;
      const y = footbridgeHeight(east);
      put(scene, new THREE.BoxGeometry(0.045, 0.62, 0.045), paint, x + east, y + 0.3, z + (side * width) / 2);
      if (i === 8) continue;
      const middle = east + length / 16;
      for (const height of [0.32, 0.6]) {
        const rail = put(scene, new THREE.BoxGeometry(length / 8 + 0.03, 0.035, 0.035), paint, x + middle, footbridgeHeight(middle) + height, z + (side * width) / 2); // prettier-ignore
        rail.rotation.z = slope(middle);
      }
    }
}
