/** The garden round the railway: ground, plants, cottages, signals, lanterns, bunting, sky. */
import * as THREE from 'three';
import { seededRandom } from '@glimbo/core/random';
import { LOOP_LENGTH, distanceToLines, trackAt } from '../track.js';
import { bricks, glossy, group, matte, painted, put, speckled } from './surfaces.js';

const SKY_VERTEX = `varying vec3 dir; void main() { dir = position; gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0); }`;
const SKY_FRAGMENT = `
varying vec3 dir;
uniform sampler2D clouds;
void main() {
  vec3 d = normalize(dir);
  float h = max(d.y, 0.0);
  vec3 c = mix(vec3(0.80, 0.87, 0.90), vec3(0.23, 0.46, 0.78), pow(h, 0.55));
  vec3 sun = normalize(vec3(0.62, 0.62, -0.48));
  float s = max(dot(d, sun), 0.0);
  c += vec3(1.0, 0.86, 0.6) * (0.25 * pow(s, 8.0) + 1.5 * pow(s, 900.0));
  vec2 p = d.xz / (d.y + 0.25) * 1.6;
  float cloud = smoothstep(0.5, 0.85, texture2D(clouds, p * 0.06 + 0.31).r) * smoothstep(0.02, 0.2, d.y);
  c = mix(c, vec3(0.97, 0.97, 0.95) * (0.9 + 0.1 * s), cloud * 0.85);
  gl_FragColor = vec4(c, 1.0);
  #include <colorspace_fragment>
}`;

/** Clouds as five octaves of value noise, painted once: computing them for every pixel of every frame takes too long. */
function cloudTexture(): THREE.DataTexture {
  const size = 1024;
  const random = seededRandom(5);
  const lattice = Float32Array.from({ length: 256 * 256 }, random);
  const at = (x: number, y: number) => lattice[(y & 255) * 256 + (x & 255)]!;
  const noise = (x: number, y: number) => {
    const [ix, iy] = [Math.floor(x), Math.floor(y)];
    const ease = (f: number) => f * f * (3 - 2 * f);
    const [fx, fy] = [ease(x - ix), ease(y - iy)];
    const top = at(ix, iy) + (at(ix + 1, iy) - at(ix, iy)) * fx;
    const bottom = at(ix, iy + 1) + (at(ix + 1, iy + 1) - at(ix, iy + 1)) * fx;
    return top + (bottom - top) * fy;
  };
  const data = new Uint8Array(size * size * 4);
  for (let y = 0; y < size; y++)
    for (let x = 0; x < size; x++) {
      let sum = 0;
      for (let octave = 0; octave < 5; octave++) {
        const f = (16 * 2 ** octave) / size;
        sum += noise(x * f, y * f) / 2 ** (octave + 1);
      }
      data.fill(Math.round(sum * 255), (y * size + x) * 4, (y * size + x) * 4 + 4);
    }
  const texture = new THREE.DataTexture(data, size, size);
  texture.wrapS = texture.wrapT = THREE.MirroredRepeatWrapping;
  texture.minFilter = THREE.LinearMipmapLinearFilter;
  texture.magFilter = THREE.LinearFilter;
  texture.generateMipmaps = true;
  texture.needsUpdate = true;
  return texture;
}

export function buildGarden(scene: THREE.Scene) {
  const sky = new THREE.Mesh(
    new THREE.SphereGeometry(90, 48, 24),
    new THREE.ShaderMaterial({
      uniforms: { clouds: { value: cloudTexture() } },
      vertexShader: SKY_VERTEX,
      fragmentShader: SKY_FRAGMENT,
      side: THREE.BackSide,
      depthWrite: false,
    }),
  );
  // Drawn last, so that its clouds are computed only where the sky is seen.
  sky.renderOrder = 10;
  scene.add(sky);
  const grass = speckled('#6d9a43', ['#7fae52', '#5b8636', '#90bd60', '#4e762e', '#86a84a'], 9000, [1, 5], 46);
  put(scene, new THREE.CircleGeometry(80, 64).rotateX(-Math.PI / 2), matte(0xffffff, grass));
  const stripes = painted(256, 1, (g, size) => {
    for (let i = 0; i < 8; i++) {
      g.fillStyle = i % 2 ? 'rgba(255,255,200,.16)' : 'rgba(0,30,0,.10)';
      g.fillRect((i * size) / 8, 0, size / 8, size);
    }
  });
  stripes.repeat.set(3, 3);
  const lawn = put(scene, new THREE.CircleGeometry(4.1, 48).rotateX(-Math.PI / 2),
    new THREE.MeshLambertMaterial({ map: stripes, transparent: true, depthWrite: false }), -0.4, 0.004, 0); // prettier-ignore
  lawn.castShadow = false;
  const gravel = matte(0xffffff, speckled('#cbbfa6', ['#ddd2bb', '#b3a68c', '#e9e0cd', '#9c8f77'], 5000, [1, 5], 8));
  put(scene, new THREE.RingGeometry(8.6, 10.4, 72).rotateX(-Math.PI / 2), gravel, 0, 0.006, 0);
  put(scene, new THREE.PlaneGeometry(1.1, 7).rotateX(-Math.PI / 2), gravel, -2.3, 0.007, 0.3, 0.5);
  buildPond(scene);
  buildVillage(scene);
  buildPlants(scene);
  buildBunting(scene);
  buildFence(scene);
}

function buildPond(scene: THREE.Scene) {
  put(scene, new THREE.CircleGeometry(1.05, 40).rotateX(-Math.PI / 2),
    new THREE.MeshPhongMaterial({ color: 0x3f7f8c, shininess: 120, specular: 0xbbbbbb }), 2.2, 0.012, -1.5); // prettier-ignore
  const random = seededRandom(11);
  const stone = matte(0xa9a296);
  for (let i = 0; i < 34; i++) {
    const a = (i / 34) * 2 * Math.PI;
    const r = 1.06 + random() * 0.08;
    put(
      scene,
      new THREE.DodecahedronGeometry(0.09 + random() * 0.06),
      stone,
      2.2 + r * Math.cos(a),
      0.03,
      -1.5 + r * Math.sin(a),
      random() * 6,
    );
  }
  for (let i = 0; i < 9; i++)
    put(
      scene,
      new THREE.CircleGeometry(0.1 + random() * 0.05, 14).rotateX(-Math.PI / 2),
      matte(0x4f9a4a),
      1.7 + random(),
      0.02,
      -2 + random(),
    );
}

function cottage(scene: THREE.Scene, x: number, z: number, heading: number, wall: string, roof: string, size = 1) {
  const house = group(scene, x, 0, z, heading);
  house.scale.setScalar(size);
  const face = painted(256, 1, (g, s) => {
    g.fillStyle = wall;
    g.fillRect(0, 0, s, s);
    g.strokeStyle = 'rgba(60,40,30,.35)';
    for (let y = 0; y < s; y += 12) g.strokeRect(-1, y, s + 2, 12);
    for (const [wx, wy] of [
      [36, 40],
      [164, 40],
      [36, 150],
      [164, 150],
    ] as const) {
      g.fillStyle = '#f6f1e4';
      g.fillRect(wx - 5, wy - 5, 66, 70);
      g.fillStyle = '#38505e';
      g.fillRect(wx, wy, 56, 60);
      g.fillStyle = '#f6f1e4';
      g.fillRect(wx + 25, wy, 5, 60);
      g.fillRect(wx, wy + 27, 56, 5);
    }
    g.fillStyle = '#7c3226';
    g.fillRect(106, 150, 46, 106);
  });
  put(house, new THREE.BoxGeometry(0.62, 0.42, 0.42), matte(0xffffff, face), 0, 0.21, 0);
  const prism = new THREE.Shape();
  prism.moveTo(-0.27, 0).lineTo(0.27, 0).lineTo(0, 0.3);
  const tiles = matte(0xffffff, bricks(roof, '#40302a', [roof, '#6b4a3f'], 14, 3));
  const top = put(house, new THREE.ExtrudeGeometry(prism, { depth: 0.72, bevelEnabled: false }), tiles, -0.36, 0.42, 0);
  top.rotation.y = Math.PI / 2;
  put(house, new THREE.BoxGeometry(0.09, 0.26, 0.09), matte(0x9c4f3c), 0.2, 0.68, 0.06);
}

function buildVillage(scene: THREE.Scene) {
  const places: [number, number, number, string, string, number][] = [
    [-1.9, 2.0, 0.4, '#efe3c8', '#a4523c', 1.1], [-2.9, 1.3, 1.0, '#d9c0a0', '#6a4a44', 1], [-3.3, 0.2, 1.5, '#f3eee2', '#8a3f33', 1.2],
    [-2.7, -1.0, 2.2, '#c9d3cf', '#54626b', 1], [-0.5, 2.0, 0.1, '#e4b98f', '#7d4034', 1], [3.2, 1.3, -0.7, '#f1e6d0', '#9a4b35', 1.1],
    [7.3, 2.8, -1.1, '#efe3c8', '#a4523c', 1.2], [6.2, -3.9, -2.3, '#f3eee2', '#54626b', 1.2], [-7.1, 3.2, 1.1, '#d9c0a0', '#8a3f33', 1.2],
    [-6.9, -2.9, 2.1, '#e4b98f', '#6a4a44', 1.1], [0.6, 6.4, -3.0, '#f1e6d0', '#8a3f33', 1.1], [1.6, 6.7, -2.9, '#c9d3cf', '#a4523c', 1],
  ]; // prettier-ignore
  for (const p of places) if (distanceToLines(p[0], p[1]) > 1) cottage(scene, ...p);
  const church = group(scene, -1.25, 0, 2.45, 0.3);
  const stone = matte(0xffffff, bricks('#b9ae9c', '#837a6b', ['#cabfae', '#a1978a'], 14, 1));
  put(church, new THREE.BoxGeometry(0.34, 0.95, 0.34), stone, 0, 0.47, 0);
  put(church, new THREE.ConeGeometry(0.27, 0.62, 4).rotateY(Math.PI / 4), matte(0x54626b), 0, 1.25, 0);
  for (const [s, line] of [
    [4.5, -0.42],
    [9.8, 1.0],
    [17.6, -0.42],
    [25.6, 1.0],
  ] as const)
    signalBox(scene, s, line);
  for (let s = 0.6; s < LOOP_LENGTH; s += 2.35) lantern(scene, s, s % 4.7 < 2.35 ? -0.5 : 1.05);
}

function signalBox(scene: THREE.Scene, s: number, offset: number) {
  const { position, heading } = trackAt(s, offset * 1.25);
  const g = group(scene, position[0], 0, position[2], heading);
  const base = Math.max(0.1, position[1] - 0.04);
  put(
    g,
    new THREE.BoxGeometry(0.3, base + 0.22, 0.5),
    matte(0xffffff, bricks('#a8553f', '#d8cbb8', ['#914634'], 12, 1)),
    0,
    (base + 0.22) / 2,
    0,
  );
  put(g, new THREE.BoxGeometry(0.32, 0.16, 0.52), matte(0xcfe3ea), 0, base + 0.3, 0);
  for (const x of [-0.16, 0.16])
    for (const z of [-0.25, -0.08, 0.08, 0.25])
      put(g, new THREE.BoxGeometry(0.02, 0.17, 0.02), matte(0xf6f1e4), x, base + 0.3, z);
  put(g, new THREE.BoxGeometry(0.42, 0.03, 0.64), matte(0x3d444b), 0, base + 0.4, 0);
  const post = trackAt(s + 0.7, offset * 0.9);
  const mast = group(scene, post.position[0], 0, post.position[2], post.heading);
  const h = post.position[1] + 0.75;
  put(mast, new THREE.CylinderGeometry(0.014, 0.018, h, 8), matte(0xf4f4f0), 0, h / 2, 0);
  put(mast, new THREE.BoxGeometry(0.26, 0.05, 0.012), glossy(0xd4372a), 0.12, h - 0.06, 0).rotation.z = -0.35;
}

function lantern(scene: THREE.Scene, s: number, offset: number) {
  const { position, heading } = trackAt(s, offset);
  const g = group(scene, position[0], 0, position[2], heading);
  const h = position[1] + 0.36;
  put(g, new THREE.CylinderGeometry(0.01, 0.016, h, 8), matte(0x22302c), 0, h / 2, 0);
  put(g, new THREE.SphereGeometry(0.035, 12, 8), new THREE.MeshBasicMaterial({ color: 0xffe6a8 }), 0, h, 0);
  put(g, new THREE.ConeGeometry(0.05, 0.04, 10), matte(0x22302c), 0, h + 0.045, 0);
}

function buildPlants(scene: THREE.Scene) {
  const random = seededRandom(23);
  const leaf = speckled('#ffffff', ['#e8efd8', '#b9c9a0', '#ffffff', '#d0dcb8'], 3500, [2, 9], 2, 9);
  const blob = new THREE.IcosahedronGeometry(1, 1);
  const p = blob.attributes.position!;
  for (let i = 0; i < p.count; i++) {
    const k = 1 + 0.16 * Math.sin(p.getX(i) * 7.1) * Math.cos(p.getY(i) * 6.3 + p.getZ(i) * 5.7);
    p.setXYZ(i, p.getX(i) * k, p.getY(i) * k, p.getZ(i) * k);
  }
  blob.computeVertexNormals();
  const clumps: { x: number; y: number; z: number; r: number; colour: THREE.Color }[] = [];
  const green = () => new THREE.Color().setHSL(0.21 + random() * 0.12, 0.32 + random() * 0.25, 0.24 + random() * 0.18);
  const trunk = matte(0x6b4a32, speckled('#a98a6c', ['#7d624a', '#c7ab8d'], 800, [2, 12], 1));
  const tree = (x: number, z: number, h: number) => {
    put(scene, new THREE.CylinderGeometry(h * 0.03, h * 0.055, h * 0.6, 8), trunk, x, h * 0.3, z);
    const colour = green();
    for (let i = 0; i < 9; i++)
      clumps.push({
        x: x + (random() - 0.5) * h * 0.5, y: h * (0.55 + random() * 0.4), z: z + (random() - 0.5) * h * 0.5,
        r: h * (0.13 + random() * 0.12), colour: colour.clone().offsetHSL(0, 0, (random() - 0.5) * 0.1),
      }); // prettier-ignore
  };
  for (let i = 0; i < 34; i++) {
    const a = (i / 34) * 2 * Math.PI + random() * 0.15;
    const r = 13.5 + random() * 12;
    tree(r * Math.cos(a), r * Math.sin(a), 3.5 + random() * 5);
  }
  for (const [x, z] of [
    [-0.9, -3.0],
    [2.9, 3.0],
    [-4.3, 1.9],
    [0.4, 3.5],
    [3.9, 0.2],
    [-3.6, -2.2],
    [9.4, 2.4],
    [-8.6, 0.6],
  ] as const)
    if (distanceToLines(x, z) > 1.2) tree(x, z, 0.9 + random() * 0.8);
  for (let i = 0; i < 190; i++) {
    const { position } = trackAt(
      random() * LOOP_LENGTH,
      random() < 0.5 ? -1.35 - random() * 0.5 : 1.9 + random() * 0.8,
    );
    const r = 0.08 + random() * 0.17;
    if (distanceToLines(position[0], position[2]) < 0.95) continue;
    clumps.push({ x: position[0], y: r * 0.5, z: position[2], r, colour: green() });
  }
  const clump = new THREE.InstancedMesh(blob, matte(0xffffff, leaf), clumps.length);
  const at = new THREE.Object3D();
  clumps.forEach((c, i) => {
    at.position.set(c.x, c.y, -c.z);
    at.scale.set(c.r, c.r * 0.85, c.r);
    at.rotation.y = i;
    at.updateMatrix();
    clump.setMatrixAt(i, at.matrix);
    clump.setColorAt(i, c.colour);
  });
  clump.castShadow = clump.receiveShadow = true;
  scene.add(clump);

  const petals = ['#e4572e', '#f3b61f', '#f7f3e3', '#c94fa0', '#7a5cc9', '#e98aa2'];
  const beds: [number, number, number][] = [[-1.7, 0.6, 0.8], [0.2, -2.3, 0.8], [-3.1, -0.3, 0.6], [2.6, 0.6, 0.7], [1.1, 2.8, 0.8], [7.4, 1.3, 0.9], [-7.4, 0.2, 0.9], [4.5, -5.3, 0.9], [-3.8, 5.2, 0.9], [3.2, 5.6, 0.9], [-4.6, -4.7, 0.9]]; // prettier-ignore
  const flowers = new THREE.InstancedMesh(new THREE.IcosahedronGeometry(0.032, 0), matte(0xffffff), beds.length * 130);
  beds.forEach(([bx, bz, size], b) => {
    put(scene, new THREE.CylinderGeometry(size, size + 0.05, 0.06, 28), matte(0x4a3826), bx, 0.02, bz);
    for (let i = 0; i < 130; i++) {
      const a = random() * 7;
      const r = Math.sqrt(random()) * size;
      at.position.set(bx + r * Math.cos(a), 0.07 + random() * 0.09, -(bz + r * Math.sin(a)));
      at.scale.setScalar(0.8 + random() * 0.9);
      at.updateMatrix();
      flowers.setMatrixAt(b * 130 + i, at.matrix);
      flowers.setColorAt(b * 130 + i, new THREE.Color(petals[(b + Math.floor(random() * 2.4)) % petals.length]!));
    }
  });
  flowers.castShadow = true;
  scene.add(flowers);
}

function buildBunting(scene: THREE.Scene) {
  const colours = [0xd4372a, 0xf0c233, 0x2c6fb0, 0x3d9a55, 0xf4f0e6].map((c) => {
    const m = matte(c);
    m.side = THREE.DoubleSide;
    return m;
  });
  const flag = new THREE.BufferGeometry();
  flag.setAttribute('position', new THREE.Float32BufferAttribute([-0.09, 0, 0, 0.09, 0, 0, 0, -0.2, 0], 3));
  flag.computeVertexNormals();
  const posts: [number, number][] = Array.from({ length: 10 }, (_, i) => [
    8.5 * Math.cos(i * 0.628),
    8.5 * Math.sin(i * 0.628),
  ]);
  posts.forEach(([x, z], i) => {
    put(scene, new THREE.CylinderGeometry(0.035, 0.045, 2.5, 10), matte(0xf4f0e6), x, 1.25, z);
    const [x2, z2] = posts[(i + 1) % posts.length]!;
    const turn = Math.atan2(x2 - x, z2 - z) + Math.PI / 2;
    for (let k = 0; k < 20; k++) {
      const f = (k + 0.5) / 20;
      put(scene, flag, colours[k % 5]!, x + (x2 - x) * f, 2.45 - 1.4 * f * (1 - f), z + (z2 - z) * f, turn);
    }
  });
}

function buildFence(scene: THREE.Scene) {
  const paling = new THREE.InstancedMesh(new THREE.BoxGeometry(0.09, 1.0, 0.025), matte(0xf2efe6), 420);
  const at = new THREE.Object3D();
  for (let i = 0; i < 420; i++) {
    const a = (i / 420) * 2 * Math.PI;
    at.position.set(11.6 * Math.cos(a), 0.5, -11.6 * Math.sin(a));
    at.rotation.y = a + Math.PI / 2;
    at.updateMatrix();
    paling.setMatrixAt(i, at.matrix);
  }
  paling.castShadow = true;
  scene.add(paling);
  for (const y of [0.3, 0.75]) {
    const rail = new THREE.TorusGeometry(11.63, 0.03, 6, 120).rotateX(Math.PI / 2);
    put(scene, rail, matte(0xe6e2d6), 0, y, 0);
  }
}
