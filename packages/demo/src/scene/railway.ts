/** The lines, their works (tunnel, trestle, turntable) and the two trains. */
import * as THREE from 'three';
import { LOOP_LENGTH, OUTER_OFFSET, TRESTLE, TUNNEL, trackAt, type Point } from '../track.js';
import { bricks, glossy, group, matte, put, speckled } from './surfaces.js';

const DECK = speckled('#c9a878', ['#b08c5c', '#e0c499', '#93724a'], 900, [2, 22], 1);
const three = (p: Point) => new THREE.Vector3(p[0], p[1], -p[2]);

/** Sweeps a cross-section (x outward to the right, y up) along the loop. */
function swept(section: [number, number][], from: number, to: number, step: number, lift = 0, closed = false) {
  const positions: number[] = [];
  const uvs: number[] = [];
  const index: number[] = [];
  const n = section.length;
  const rows = Math.ceil((to - from) / step);
  for (let i = 0; i <= rows; i++) {
    const s = from + ((to - from) * i) / rows;
    const { position, heading } = trackAt(s);
    section.forEach(([x, y], k) => {
      // A negative height marks the ground: embankments end there wherever the line runs.
      const height = y <= -9 ? -0.02 : position[1] + y + lift;
      positions.push(position[0] + x * Math.cos(heading), height, -(position[2] - x * Math.sin(heading)));
      uvs.push(k / (n - 1) * 2, s);
    });
  }
  for (let i = 0; i < rows; i++)
    for (let k = 0; k < n - 1 + (closed ? 1 : 0); k++) {
      const a = i * n + k;
      const b = i * n + ((k + 1) % n);
      index.push(a, b, a + n, b, b + n, a + n);
    }
  const g = new THREE.BufferGeometry();
  g.setAttribute('position', new THREE.Float32BufferAttribute(positions, 3));
  g.setAttribute('uv', new THREE.Float32BufferAttribute(uvs, 2));
  g.setIndex(index);
  g.computeVertexNormals();
  return g;
} // prettier-ignore

export function buildLine(scene: THREE.Scene) {
  const ballast = matte(0xffffff, speckled('#8d8678', ['#a59d8c', '#6e685c', '#c3bba9', '#57524a'], 5200, [2, 7], 3));
  ballast.side = THREE.DoubleSide;
  const bank: [number, number][] = [[-1.15, -10], [-0.34, -0.03], [0.86, -0.03], [1.65, -10]]; // prettier-ignore
  const mesh = (g: THREE.BufferGeometry, m: THREE.Material) => put(scene, g, m);
  mesh(swept(bank, TRESTLE.to, TRESTLE.from + LOOP_LENGTH, 0.15), ballast);

  const rail = glossy(0x9aa0a6);
  for (const line of [0, OUTER_OFFSET])
    for (const side of [-0.064, 0.064]) {
      const x = line + side;
      const section: [number, number][] = [[x - 0.008, 0], [x - 0.008, 0.022], [x + 0.008, 0.022], [x + 0.008, 0]]; // prettier-ignore
      mesh(swept(section, 0, LOOP_LENGTH, 0.08), rail).material.side = THREE.DoubleSide;
    }

  const sleeper = new THREE.BoxGeometry(0.26, 0.025, 0.055);
  const count = Math.floor(LOOP_LENGTH / 0.14);
  const sleepers = new THREE.InstancedMesh(sleeper, matte(0x4d3a2a), count * 2);
  const at = new THREE.Object3D();
  for (let i = 0; i < count * 2; i++) {
    const { position, heading } = trackAt(((i % count) / count) * LOOP_LENGTH, i < count ? 0 : OUTER_OFFSET);
    at.position.copy(three(position)).add(new THREE.Vector3(0, -0.012, 0));
    at.rotation.set(0, -heading, 0);
    at.updateMatrix();
    sleepers.setMatrixAt(i, at.matrix);
  }
  sleepers.castShadow = sleepers.receiveShadow = true;
  scene.add(sleepers);
  buildTrestle(scene);
  buildTunnel(scene);
}

function buildTrestle(scene: THREE.Scene) {
  const wood = matte(0x8a5a33, speckled('#b98a5c', ['#8d6238', '#d3a87c', '#704a28'], 900, [2, 18], 1));
  put(scene, swept([[-0.22, -0.03], [0.74, -0.03], [0.74, -0.1], [-0.22, -0.1]], TRESTLE.from, TRESTLE.to, 0.15, 0, true), wood)
    .material.side = THREE.DoubleSide; // prettier-ignore
  for (let s = TRESTLE.from + 0.2; s < TRESTLE.to; s += 0.4) {
    const { position, heading } = trackAt(s);
    const bent = group(scene, position[0], 0, position[2], heading);
    const h = position[1] - 0.08;
    for (const [x, lean] of [
      [-0.2, 0.12],
      [0.26, 0],
      [0.72, -0.12],
    ] as const) {
      const post = put(bent, new THREE.BoxGeometry(0.06, h * 1.02, 0.06), wood, x - lean * h * 0.5, h / 2, 0);
      post.rotation.z = -lean;
    }
    put(bent, new THREE.BoxGeometry(1.1, 0.05, 0.07), wood, 0.26, h * 0.45, 0);
  }
}

function buildTunnel(scene: THREE.Scene) {
  const arch = (r: number, base: number): [number, number][] =>
    Array.from({ length: 15 }, (_, i) => {
      const a = Math.PI * (i / 14);
      return [0.26 - r * Math.cos(a), i === 0 || i === 14 ? base : r * Math.sin(a) * 1.05];
    });
  const stone = matte(0xffffff, bricks('#8f8577', '#5d564c', ['#a0968a', '#7b7265', '#b3aa9c'], 8, 1));
  stone.side = THREE.DoubleSide;
  put(scene, swept(arch(0.78, -0.05), TUNNEL.from, TUNNEL.to, 0.1), stone);
  const turf = matte(0xffffff, speckled('#5d8a3a', ['#76a34a', '#47702c', '#8ab55c', '#3b5f26'], 6000, [1, 5], 3));
  turf.side = THREE.DoubleSide;
  const hill: [number, number][] = [[-2.6, -10], [-1.75, 0.15], [-1.1, 0.78], [-0.4, 1.14], [0.35, 1.2], [1.0, 0.95], [1.7, 0.35], [2.9, -10]]; // prettier-ignore
  put(scene, swept(hill, TUNNEL.from + 0.12, TUNNEL.to - 0.12, 0.2), turf);
  for (const s of [TUNNEL.from, TUNNEL.to]) {
    const { position, heading } = trackAt(s);
    const wall = new THREE.Shape();
    wall.moveTo(-1.9, -0.6).lineTo(-1.5, 0.75).lineTo(-0.9, 1.3).lineTo(1.4, 1.3).lineTo(2.0, 0.75).lineTo(2.4, -0.6);
    const hole = new THREE.Path();
    arch(0.78, -0.55).forEach(([x, y], i) => (i ? hole.lineTo(x, y) : hole.moveTo(x, y)));
    wall.holes.push(hole);
    const front = group(scene, position[0], position[1], position[2], heading);
    put(front, new THREE.ExtrudeGeometry(wall, { depth: 0.16, bevelEnabled: false }), stone, 0, 0, 0.08);
  }
}

/** A steam engine some 0.75 m long, facing z ahead in its group. */
export function engine(parent: THREE.Object3D, body: number, trim: number): THREE.Group {
  const g = new THREE.Group();
  parent.add(g);
  const paint = glossy(body);
  const dark = glossy(0x26282b);
  const brass = glossy(trim);
  const along = (geometry: THREE.BufferGeometry) => geometry.rotateX(Math.PI / 2);
  put(g, new THREE.BoxGeometry(0.2, 0.06, 0.7), dark, 0, 0.1, 0);
  put(g, along(new THREE.CylinderGeometry(0.085, 0.085, 0.42, 20)), paint, 0, 0.21, 0.1);
  put(g, along(new THREE.CylinderGeometry(0.09, 0.09, 0.06, 20)), dark, 0, 0.21, 0.32);
  for (const z of [-0.05, 0.12, 0.24])
    put(g, along(new THREE.CylinderGeometry(0.088, 0.088, 0.012, 20)), brass, 0, 0.21, z);
  put(g, new THREE.CylinderGeometry(0.035, 0.025, 0.14, 14), dark, 0, 0.35, 0.28);
  put(g, new THREE.SphereGeometry(0.045, 14, 10), brass, 0, 0.3, 0.1);
  put(g, new THREE.BoxGeometry(0.22, 0.2, 0.2), paint, 0, 0.25, -0.2);
  put(g, new THREE.BoxGeometry(0.26, 0.02, 0.26), dark, 0, 0.36, -0.2);
  put(g, new THREE.BoxGeometry(0.23, 0.09, 0.12), matte(0xbfd4dd), 0, 0.29, -0.2);
  put(g, new THREE.BoxGeometry(0.24, 0.05, 0.02), glossy(0xc23b22), 0, 0.11, 0.36);
  put(g, new THREE.SphereGeometry(0.025, 10, 8), new THREE.MeshBasicMaterial({ color: 0xfff2c0 }), 0, 0.31, 0.35);
  wheels(g, [-0.24, -0.08, 0.08, 0.24], 0.065);
  return g;
}

/** A wagon some 0.5 m long. */
export function wagon(parent: THREE.Object3D, kind: 'flat' | 'coach' | 'tub', colour: number): THREE.Group {
  const g = new THREE.Group();
  parent.add(g);
  put(g, new THREE.BoxGeometry(0.21, 0.04, 0.5), matte(0xb9a88c, DECK), 0, 0.11, 0);
  if (kind === 'coach') {
    put(g, new THREE.BoxGeometry(0.22, 0.2, 0.48), glossy(colour), 0, 0.23, 0);
    put(g, new THREE.BoxGeometry(0.25, 0.025, 0.52), matte(0xe8e0cc), 0, 0.345, 0);
    for (const z of [-0.15, 0, 0.15]) put(g, new THREE.BoxGeometry(0.225, 0.08, 0.09), matte(0x2e4450), 0, 0.26, z);
  }
  if (kind === 'tub') {
    for (const x of [-0.1, 0.1]) put(g, new THREE.BoxGeometry(0.015, 0.12, 0.48), matte(colour), x, 0.19, 0);
    for (const z of [-0.24, 0.24]) put(g, new THREE.BoxGeometry(0.2, 0.12, 0.015), matte(colour), 0, 0.19, z);
    const load = matte(0xd9653b);
    for (let i = 0; i < 9; i++)
      put(g, new THREE.SphereGeometry(0.045, 8, 6), load, ((i % 3) - 1) * 0.06, 0.2, (Math.floor(i / 3) - 1) * 0.14);
  }
  wheels(g, [-0.16, 0.16], 0.045);
  return g;
}

function wheels(g: THREE.Group, places: number[], r: number) {
  const geometry = new THREE.CylinderGeometry(r, r, 0.018, 18).rotateZ(Math.PI / 2);
  const material = glossy(0x5a2320);
  for (const z of places) for (const x of [-0.07, 0.07]) put(g, geometry, material, x, r + 0.022, z);
}

export interface Train {
  cars: { group: THREE.Group; back: number }[];
  line: number;
}

/** Puts every car of a train on its line, its head at s metres. */
export function placeTrain(train: Train, s: number) {
  for (const { group: g, back } of train.cars) {
    const { position, heading, slope, curvature } = trackAt(s - back, train.line);
    g.position.copy(three(position));
    g.rotation.set(slope, -heading, -0.34 * curvature, 'YXZ');
  }
}

export function buildTurntable(scene: THREE.Scene): THREE.Group {
  const stone = matte(0xffffff, bricks('#a3978a', '#6d655b', ['#b5aa9d', '#8c8175'], 8, 3));
  const paving = matte(0xffffff, bricks('#c2b6a4', '#8d8272', ['#d0c5b4', '#ada08d', '#b9a78c'], 8, 5));
  put(scene, new THREE.CylinderGeometry(1.35, 1.4, 0.06, 56), paving, 0.9, 0.03, 0.9);
  put(scene, new THREE.CylinderGeometry(0.72, 0.72, 0.08, 48, 1, true), stone, 0.9, 0.06, 0.9).material.side =
    THREE.DoubleSide;
  put(scene, new THREE.CylinderGeometry(0.7, 0.7, 0.02, 48), matte(0x6f6659), 0.9, 0.065, 0.9);
  const bridge = group(scene, 0.9, 0.1, 0.9);
  put(bridge, new THREE.BoxGeometry(0.3, 0.05, 1.36), glossy(0x2f4a58), 0, 0, 0);
  for (const x of [-0.064, 0.064])
    put(bridge, new THREE.BoxGeometry(0.016, 0.022, 1.36), glossy(0x9aa0a6), x, 0.036, 0);
  for (const x of [-0.16, 0.16])
    for (const y of [0.12, 0.2]) put(bridge, new THREE.BoxGeometry(0.008, 0.008, 1.3), glossy(0xd8cfae), x, y, 0);
  const loco = engine(bridge, 0x1f5c8a, 0xd9b24a);
  loco.position.y = 0.03;
  // A short spur leads from the turntable to the engine shed.
  for (const a of [0.6, 1.25, 1.9]) {
    const spur = group(scene, 0.9 + Math.sin(a) * 1.5, 0.065, 0.9 + Math.cos(a) * 1.5, a);
    for (const x of [-0.064, 0.064]) put(spur, new THREE.BoxGeometry(0.016, 0.022, 1.5), glossy(0x9aa0a6), x, 0.02, 0);
    for (let z = -0.7; z < 0.75; z += 0.14)
      put(spur, new THREE.BoxGeometry(0.26, 0.02, 0.055), matte(0x4d3a2a), 0, 0.005, z);
    const shed = group(scene, 0.9 + Math.sin(a) * 2.5, 0, 0.9 + Math.cos(a) * 2.5, a);
    const wall = matte(0xffffff, bricks('#b0583f', '#d8cbb8', ['#9c4a34', '#c46a4f', '#a9543c'], 12, 1));
    for (const x of [-0.31, 0.31]) put(shed, new THREE.BoxGeometry(0.05, 0.6, 1), wall, x, 0.3, 0);
    put(shed, new THREE.BoxGeometry(0.62, 0.6, 0.05), wall, 0, 0.3, 0.5);
    for (const side of [-1, 1]) {
      const roof = put(shed, new THREE.BoxGeometry(0.46, 0.03, 1.1), matte(0x4a5058), side * 0.19, 0.7, 0);
      roof.rotation.z = -side * 0.5;
    }
  }
  return bridge;
}
