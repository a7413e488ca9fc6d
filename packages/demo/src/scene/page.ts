/**
 * Runs inside headless Chromium: renders Brindle Halt as equirectangular frames and posts them, as raw
 * RGBA from the top row down, to the server that opened the page.
 */
import * as THREE from 'three';
import type { Matrix3 } from '@glimbo/core/geometry/rotation';
import { mergeStill } from './merge.js';
import { rigToLens, focalOf } from '@glimbo/core/stitch/lens';
import { LENS_AHEAD, LENS_SIDE, SENSOR, TRUE } from '../lenses.js';
import { CLIPS, CORNER_HEADING, RATE, overtakerAt, wagonAt, type ClipName } from '../motion.js';
import { OUTER_OFFSET } from '../track.js';
import { buildFootbridge } from './footbridge.js';
import { buildGarden } from './garden.js';
import { buildPeople } from './people.js';
import { lookAt, preparedForRays, type Thing } from './subjects.js';
import { buildLine, buildTurntable, engine, placeTrain, wagon, type Train } from './railway.js';

const query = new URLSearchParams(location.search);
const clip = query.get('clip') as ClipName;
const width = Number(query.get('width') ?? 3840);
const height = width / 2;
const from = Number(query.get('from') ?? 0);
const to = Number(query.get('to') ?? CLIPS[clip].duration * RATE);

// Shadows are looked up with four taps, blended: in software the usual seventeen cost more than all the rest.
THREE.ShaderChunk.shadowmap_pars_fragment = THREE.ShaderChunk.shadowmap_pars_fragment.replace(
  /#if defined\( SHADOWMAP_TYPE_PCF \)[\s\S]*?#elif defined\( SHADOWMAP_TYPE_PCF_SOFT \)/,
  `#if defined( SHADOWMAP_TYPE_PCF )
    vec2 texel = shadowCoord.xy * shadowMapSize - 0.5;
    vec2 part = fract(texel);
    vec2 base = (floor(texel) + 0.5) / shadowMapSize;
    vec2 one = 1.0 / shadowMapSize;
    shadow = mix(
      mix(texture2DCompare(shadowMap, base, shadowCoord.z), texture2DCompare(shadowMap, base + vec2(one.x, 0.0), shadowCoord.z), part.x),
      mix(texture2DCompare(shadowMap, base + vec2(0.0, one.y), shadowCoord.z), texture2DCompare(shadowMap, base + one, shadowCoord.z), part.x),
      part.y);
  #elif defined( SHADOWMAP_TYPE_PCF_SOFT )`,
);

const scene = new THREE.Scene();
scene.fog = new THREE.Fog(0xccdde2, 14, 75);
scene.add(new THREE.HemisphereLight(0xcfe3f5, 0x6b7a4a, 1.5));
const sun = new THREE.DirectionalLight(0xfff0d4, 3.0);
sun.position.set(18.6, 18.6, -14.4);
sun.castShadow = true;
sun.shadow.mapSize.set(3072, 3072);
Object.assign(sun.shadow.camera, { left: -13, right: 13, top: 13, bottom: -13, near: 2, far: 60 });
sun.shadow.bias = -0.0006;
sun.shadow.normalBias = 0.012;
scene.add(sun);

buildGarden(scene);
buildLine(scene);
// It was put up for the afternoon.
if (clip === 'footbridge-carry') buildFootbridge(scene);
mergeStill(scene);
const bridge = buildTurntable(scene);
const people = buildPeople(scene);

const train = (
  colours: { body: number; trim: number; cars: [Parameters<typeof wagon>[1], number][] },
  line: number,
  leads: boolean,
): Train => {
  const cars = leads ? [{ group: engine(scene, colours.body, colours.trim), back: 0 }] : [];
  colours.cars.forEach(([kind, colour], i) => cars.push({ group: wagon(scene, kind, colour), back: 0.72 + i * 0.58 }));
  return { cars, line };
};
// The camera rides on the flat wagon behind two others; the engine of its train is 1.9 m ahead.
const own = train({ body: 0xb3261e, trim: 0xd9b24a, cars: [['tub', 0x4c6b3c], ['coach', 0x7a2320], ['flat', 0], ['tub', 0x34556b], ['coach', 0x7a2320]] }, 0, true); // prettier-ignore
const other = train({ body: 0x1f6b4a, trim: 0xd8cfae, cars: [['coach', 0x24506b], ['coach', 0x24506b], ['tub', 0x6b4a2a], ['tub', 0x3c5a6b], ['coach', 0x24506b]] }, OUTER_OFFSET, true); // prettier-ignore
const CAMERA_CAR = 0.72 + 2 * 0.58;

function moveWorld(time: number) {
  // In Turntable the same trains run past by other times, so that something happens on every side.
  const ridge = clip === 'ridge-loop';
  placeTrain(own, ridge ? wagonAt(time) + CAMERA_CAR : 9.5 + 1.1 * time);
  placeTrain(other, ridge ? overtakerAt(time) : 21 + 1.7 * Math.max(0, time - 4));
  const t = Math.min(1, Math.max(0, (time - 1.5) / 5));
  bridge.rotation.y = -(0.6 + t * t * (3 - 2 * t) * 2.8);
  people.move(time);
}

const renderer = new THREE.WebGLRenderer({ antialias: false, preserveDrawingBuffer: true });
renderer.shadowMap.enabled = true;
renderer.shadowMap.type = THREE.PCFShadowMap;
renderer.shadowMap.autoUpdate = false;
renderer.toneMapping = THREE.NoToneMapping;
/** In a clip whose camera keeps its place only what moves, and its shadow, has to be drawn again. */
const moving = clip === 'ridge-loop' || clip === 'footbridge-carry';
/** The six faces of a cube round the camera, a touch wider than 90° so that filtering never meets an edge. */
const FACE = Math.round((width / 3840) * (moving ? 1000 : 1080));
const EDGE = 1.004;
const LOOKS: [direction: number[], up: number[]][] = [
  [[1, 0, 0], [0, 1, 0]], [[-1, 0, 0], [0, 1, 0]], [[0, 1, 0], [0, 0, 1]],
  [[0, -1, 0], [0, 0, -1]], [[0, 0, 1], [0, 1, 0]], [[0, 0, -1], [0, 1, 0]],
]; // prettier-ignore
const facesOf = () =>
  LOOKS.map(([direction, up]) => {
    const camera = new THREE.PerspectiveCamera((2 * Math.atan(EDGE) * 180) / Math.PI, 1, 0.05, 200);
    camera.up.set(up[0]!, up[1]!, up[2]!);
    camera.lookAt(direction[0]!, direction[1]!, direction[2]!);
    const target = new THREE.WebGLRenderTarget(FACE, FACE, {
      type: THREE.HalfFloatType,
      samples: 4,
    });
    return { camera, target };
  });

/** One camera for the whole sphere, or one for each of two lenses, metres ahead of the middle. */
const twoLenses = clip === 'signal-corner';
const eyes = (twoLenses ? [LENS_AHEAD, -LENS_AHEAD] : [0]).map((ahead, n) => ({ ahead, lens: TRUE[n]!, sensor: SENSOR[n]!, faces: facesOf() })); // prettier-ignore

const target = new THREE.WebGLRenderTarget(width, height, { depthBuffer: false });
/** Colour from the six faces in a direction of the world; then the tone curve, the sensor's gain and sRGB. */
const LOOK_UP = `
    uniform sampler2D faces[6]; uniform mat3 pose; uniform vec3 gain; varying vec2 at;
    vec2 spot(float x, float y, float depth) { return 0.5 + 0.5 * vec2(x, y) / (depth * ${EDGE}); }
    vec3 look(vec3 d) {
      d = pose * d;
      d.z = -d.z;
      vec3 a = abs(d), c;
      if (a.x >= a.y && a.x >= a.z) c = d.x > 0.0
        ? textureLod(faces[0], spot(d.z, d.y, a.x), 0.0).rgb : textureLod(faces[1], spot(-d.z, d.y, a.x), 0.0).rgb;
      else if (a.y >= a.z) c = d.y > 0.0
        ? textureLod(faces[2], spot(d.x, d.z, a.y), 0.0).rgb : textureLod(faces[3], spot(d.x, -d.z, a.y), 0.0).rgb;
      else c = d.z > 0.0
        ? textureLod(faces[4], spot(-d.x, d.y, a.z), 0.0).rgb : textureLod(faces[5], spot(d.x, d.y, a.z), 0.0).rgb;
      c = gain * c * (2.51 * c + 0.03) / (c * (2.43 * c + 0.59) + 0.14);
      return mix(12.92 * c, 1.055 * pow(max(c, 0.0), vec3(1.0 / 2.4)) - 0.055, step(0.0031308, c));
    }`;
// Rows are written upside down, so that reading back from the bottom gives the top row first.
const WHOLE_SPHERE = `${LOOK_UP}
    void main() {
      float lon = (at.x - 0.5) * 6.283185307179586, lat = (0.5 - at.y) * 3.141592653589793;
      gl_FragColor = vec4(look(vec3(cos(lat) * sin(lon), sin(lat), cos(lat) * cos(lon))), 1.0);
    }`;
const ONE_LENS = `${LOOK_UP}
    uniform mat3 lensToRig; uniform vec2 centre; uniform float focal, k1, k2, edge;
    void main() {
      vec2 p = at * ${LENS_SIDE}.0 - centre;
      float r = length(p), wanted = r / focal, theta = wanted;
      for (int i = 0; i < 8; i++) {
        float t2 = theta * theta;
        theta -= (theta * (1.0 + t2 * (k1 + t2 * k2)) - wanted) / (1.0 + t2 * (3.0 * k1 + 5.0 * t2 * k2));
      }
      vec2 across = r > 0.0 ? p / r * sin(theta) : vec2(0.0);
      vec3 c = look(lensToRig * vec3(across.x, -across.y, cos(theta)));
      gl_FragColor = vec4(c * clamp(edge - r + 0.5, 0.0, 1.0), 1.0);
    }`;
const unroll = new THREE.ShaderMaterial({
  uniforms: {
    faces: { value: [] as THREE.Texture[] },
    pose: { value: new THREE.Matrix3() },
    gain: { value: new THREE.Vector3(1, 1, 1) },
    lensToRig: { value: new THREE.Matrix3() },
    centre: { value: new THREE.Vector2() },
    focal: { value: 1 },
    k1: { value: 0 },
    k2: { value: 0 },
    edge: { value: 0 },
  },
  vertexShader: 'varying vec2 at; void main() { at = uv; gl_Position = vec4(position.xy, 0.0, 1.0); }',
  fragmentShader: twoLenses ? ONE_LENS : WHOLE_SPHERE,
  depthTest: false,
});
const quad = new THREE.Scene();
quad.add(new THREE.Mesh(new THREE.PlaneGeometry(2, 2), unroll));
const flat = new THREE.OrthographicCamera(-1, 1, 1, -1, 0, 1);
const rows = new Uint8Array(width * height * 4);

let drawn = false;
const movers = [...own.cars, ...other.cars].map((c) => c.group as THREE.Object3D).concat(bridge, people.objects);
const lastBoxes = new Map<THREE.Camera, THREE.Box2>();

/** The part of a face (pixels) in which something moves now or moved in the frame before; null if nothing does. */
function movedPart(camera: THREE.Camera): THREE.Vector4 | null {
  const now = new THREE.Box2();
  const solid = new THREE.Box3();
  const point = new THREE.Vector3();
  for (const object of movers) {
    solid.setFromObject(object);
    const sunward = new THREE.Vector3(18.6, 18.6, -14.4).multiplyScalar(-solid.max.y / 18.6);
    solid.union(solid.clone().translate(sunward));
    const seen = new THREE.Box2();
    let behind = 0;
    for (let i = 0; i < 8; i++) {
      point.set(
        i & 1 ? solid.max.x : solid.min.x,
        i & 2 ? solid.max.y : solid.min.y,
        i & 4 ? solid.max.z : solid.min.z,
      );
      point.applyMatrix4(camera.matrixWorldInverse);
      if (point.z > -0.05) {
        behind++;
        point.z = -0.05;
      }
      seen.expandByPoint(new THREE.Vector2(-point.x / point.z, -point.y / point.z));
    }
    if (behind < 8)
      now.union(seen.intersect(new THREE.Box2(new THREE.Vector2(-EDGE, -EDGE), new THREE.Vector2(EDGE, EDGE))));
  }
  const box = now.clone();
  const before = lastBoxes.get(camera);
  if (before && !before.isEmpty()) box.union(before);
  lastBoxes.set(camera, now);
  if (box.isEmpty()) return null;
  const pixel = (v: number) => Math.max(0, Math.min(FACE, ((v / EDGE + 1) / 2) * FACE));
  const [x0, y0] = [Math.floor(Math.max(0, pixel(box.min.x) - 2)), Math.floor(Math.max(0, pixel(box.min.y) - 2))];
  return new THREE.Vector4(x0, y0, Math.ceil(pixel(box.max.x)) + 2 - x0, Math.ceil(pixel(box.max.y)) + 2 - y0);
}

function render(time: number, position: number[], pose: Matrix3) {
  moveWorld(time);
  renderer.shadowMap.needsUpdate = true;
  eyes.forEach(({ ahead, lens, sensor, faces }, n) => {
    for (const { camera, target: face } of faces) {
      camera.position.set(
        position[0]! + ahead * Math.sin(CORNER_HEADING),
        position[1]!,
        -(position[2]! + ahead * Math.cos(CORNER_HEADING)),
      );
      camera.updateMatrixWorld();
      if (!moving && drawn) {
        const box = movedPart(camera);
        if (!box) continue;
        face.scissorTest = true;
        face.scissor.copy(box);
      }
      renderer.setRenderTarget(face);
      renderer.render(scene, camera);
    }
    const set = (name: string) => unroll.uniforms[name]!;
    set('faces').value = faces.map((f) => f.target.texture);
    (set('pose').value as THREE.Matrix3).set(...pose);
    if (twoLenses) {
      // The matrix to the rig is the transpose of the one to the lens, which is what reading it by columns gives.
      (set('lensToRig').value as THREE.Matrix3).fromArray([...rigToLens(lens)]);
      set('gain').value = new THREE.Vector3(...sensor);
      set('centre').value = new THREE.Vector2(lens.centreX, lens.centreY);
      Object.assign(set('focal'), { value: focalOf(lens) });
      Object.assign(set('k1'), { value: lens.k1 });
      Object.assign(set('k2'), { value: lens.k2 });
      Object.assign(set('edge'), { value: lens.radius });
    }
    target.viewport.set((n * width) / eyes.length, 0, width / eyes.length, height);
    target.scissor.copy(target.viewport);
    target.scissorTest = true;
    renderer.setRenderTarget(target);
    renderer.render(quad, flat);
  });
  drawn = true;
  renderer.readRenderTargetPixels(target, 0, 0, width, height, rows);
}

/** Everything that moves about, by name. */
const things: Thing[] = [
  ...people.named,
  { name: 'own engine', objects: [own.cars[0]!.group] },
  { name: 'other engine', objects: [other.cars[0]!.group] },
  { name: 'other train’s first coach', objects: [other.cars[1]!.group] },
  { name: 'engine on the turntable', objects: [bridge.children.at(-1)!] },
];

/** Frames from one look at them to the next. */
const EVERY = 3;

/** Where they truly are, in every third frame. */
function measure() {
  preparedForRays(scene);
  return things.map((thing) => ({
    name: thing.name,
    looks: Array.from({ length: Math.floor((to - from) / EVERY) }, (_, k) => {
      const frame = from + k * EVERY;
      const { position, rotation } = CLIPS[clip].pose(frame / RATE);
      moveWorld(frame / RATE);
      scene.updateMatrixWorld(true);
      return lookAt(scene, thing, position, rotation, frame);
    }),
  }));
}

async function film() {
  let sent: Promise<unknown> = Promise.resolve();
  for (let n = from; n < to; n++) {
    const time = n / RATE;
    const { position, rotation } = CLIPS[clip].pose(time);
    render(time, position, rotation);
    await sent;
    sent = fetch(`/frame/${n}`, { method: 'POST', body: rows.slice() });
  }
  await sent;
}

if (query.has('subjects')) await fetch('/subjects', { method: 'POST', body: JSON.stringify(measure()) });
else await film();
await fetch('/done', { method: 'POST' });
