/** Visitors and balloons: simple figures whose place is a pure function of time. */
import type { Thing } from './subjects.js';
import * as THREE from 'three';
import { glossy, group, matte, put } from './surfaces.js';

interface Walker {
  figure: THREE.Group;
  legs: THREE.Object3D[];
  /** Way-points in metres (x east, z north) with their times in seconds. */
  way: [time: number, x: number, z: number][];
}

function figure(scene: THREE.Scene, height: number, top: number, bottom: number, hat: number | null) {
  const g = group(scene, 0, 0, 0);
  g.scale.setScalar(height / 1.7);
  const legs = [-0.1, 0.1].map((x) => {
    const leg = group(g, x, 0.82, 0);
    put(leg, new THREE.CapsuleGeometry(0.085, 0.62, 4, 10), matte(bottom), 0, -0.4, 0);
    put(leg, new THREE.BoxGeometry(0.12, 0.08, 0.24), matte(0x3a2f2a), 0, -0.78, 0.05);
    return leg;
  });
  put(g, new THREE.CapsuleGeometry(0.2, 0.42, 6, 14), matte(top), 0, 1.12, 0);
  for (const x of [-0.26, 0.26])
    put(g, new THREE.CapsuleGeometry(0.06, 0.48, 4, 8), matte(top), x, 1.1, 0.02).rotation.z = x * 0.5;
  put(g, new THREE.SphereGeometry(0.14, 18, 14), matte(0xd9a47e), 0, 1.58, 0);
  if (hat !== null) {
    put(g, new THREE.CylinderGeometry(0.25, 0.25, 0.02, 20), matte(hat), 0, 1.66, 0);
    put(g, new THREE.CylinderGeometry(0.13, 0.15, 0.12, 16), matte(hat), 0, 1.72, 0);
  } else put(g, new THREE.SphereGeometry(0.148, 16, 10, 0, 7, 0, 1.6), matte(0x4a2e1e), 0, 1.6, -0.01);
  return { figure: g, legs };
}

/** What the visitors are called, in the order in which they are built. */
const NAMES = [
  'blue visitor',
  'orange child',
  'yellow visitor',
  'green visitor',
  'pink visitor',
  'violet child',
  'white visitor',
  'teal visitor',
  'rust visitor',
];

export function buildPeople(scene: THREE.Scene) {
  const walkers: Walker[] = [
    { ...figure(scene, 1.72, 0x2c6fb0, 0x3b4048, 0xe9dcb9), way: [[0, -4.0, -1.2], [4, -2.0, -1.9], [9, 1.0, -2.2], [13, 3.6, -1.6], [16, 4.9, 0.6]] },
    { ...figure(scene, 1.2, 0xe4572e, 0x2c4a6b, null), way: [[0, 6.0, 7.0], [7, 3.6, 7.4], [9.5, -0.5, 7.6], [12, -4.2, 7.2], [16, -7.4, 4.8]] },
    { ...figure(scene, 1.66, 0xf0c233, 0x5a4a6b, 0xffffff), way: [[0, -3.4, 5.6], [16, -2.7, 5.75]] },
    { ...figure(scene, 1.78, 0x3d9a55, 0x6b5a45, null), way: [[0, 9.2, 1.2], [16, 9.2, 1.5]] },
    { ...figure(scene, 1.7, 0xc94fa0, 0x33404a, 0xc23b22), way: [[0, 8.8, -1.2], [10, 9.4, 0.3], [16, 9.6, 0.4]] },
    { ...figure(scene, 1.1, 0x7a5cc9, 0x8a6a3a, null), way: [[0, -9.3, 1.0], [5, -9.2, -1.4], [10, -9.3, 1.6], [16, -9.2, -1.8]] },
    { ...figure(scene, 1.75, 0xf4f0e6, 0x44546b, 0x3d444b), way: [[0, -2.5, -9.3], [8, 0.5, -9.4], [16, 4.2, -9.0]] },
    { ...figure(scene, 1.62, 0x2a9d8f, 0x4b3b52, null), way: [[0, 3.3, -9.6], [16, 2.9, -9.5]] },
    { ...figure(scene, 1.74, 0xb5452c, 0x2e3a3f, 0xe9dcb9), way: [[0, 5.9, 8.9], [16, 5.3, 8.8]] },
  ]; // prettier-ignore
  const balloons = [0xd4372a, 0xf0c233, 0x2c6fb0].map((colour, i) => {
    const g = group(scene, 0, 0, 0);
    put(g, new THREE.SphereGeometry(0.17, 22, 16).scale(1, 1.2, 1), glossy(colour));
    put(g, new THREE.CylinderGeometry(0.004, 0.004, 0.9, 4), matte(0xf4f0e6), 0, -0.62, 0);
    return { g, i };
  });

  /** Moves everybody to where they are at `time` seconds. */
  const move = (time: number) => {
    for (const { figure: g, legs, way } of walkers) {
      let k = 0;
      while (k < way.length - 2 && way[k + 1]![0] <= time) k++;
      const [t0, x0, z0] = way[k]!;
      const [t1, x1, z1] = way[k + 1]!;
      const f = Math.min(1, Math.max(0, (time - t0) / (t1 - t0)));
      const speed = Math.hypot(x1 - x0, z1 - z0) / (t1 - t0);
      g.position.set(x0 + (x1 - x0) * f, speed > 0.2 ? 0.02 * Math.abs(Math.sin(time * 5)) : 0, -(z0 + (z1 - z0) * f));
      g.rotation.y = -Math.atan2(x1 - x0, z1 - z0);
      legs.forEach((leg, i) => (leg.rotation.x = Math.min(1, speed) * 0.6 * Math.sin(time * 5 + i * Math.PI)));
    }
    for (const { g, i } of balloons) {
      const t = Math.max(0, time - 8.5 - i * 0.5);
      g.position.set(
        8.9 + i * 0.3 - t * 0.18,
        1.9 + t * t * 0.1 + t * 0.22,
        -(1.6 + i * 0.25 + 0.12 * Math.sin(t + i)),
      );
    }
  };
  const named: Thing[] = [
    ...walkers.map((w, i) => ({ name: NAMES[i]!, objects: [w.figure] })),
    // Without their strings, which nobody would point at.
    ...balloons.map((b, i) => ({ name: `balloon ${i + 1}`, objects: [b.g.children[0]!] })),
  ];
  return { move, named, objects: [...walkers.map((w) => w.figure as THREE.Object3D), ...balloons.map((b) => b.g)] };
}
