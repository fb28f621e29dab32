import * as THREE from 'three';
import { openStage, stepper, type Level } from 'apperin';
import { keyboard } from 'apperin/browser';

// y points up, here and in three.js. "/" and "\" are ramps, "=" can be jumped through from below.
const level: Level = {
  yPoints: 'up',
  rows: [
    '............................................',
    '............................................',
    '............................................',
    '...................===......................',
    '......................................######',
    '.................................../########',
    '............###.....................########',
    '..............................##....########',
    '..@....../##\\...............................',
    '############################################',
  ],
  movers: [
    {
      name: 'lift',
      shapes: [{ form: 'solid', points: [[32, 0.6], [35, 0.6], [35, 1], [32, 1]] }],
      route: { curve: [[0, 0, 0, 3]], lap: 5, keyPoints: [0, 0, 1, 1, 0], keyTimes: [0, 0.1, 0.5, 0.6, 1] },
    },
  ],
  bounds: { left: 'wall', right: 'wall' },
}; // prettier-ignore

const mill = openStage(level);
const hero = mill.add({ airJumps: {} }, { driver: keyboard(window), opposed: 'latest' });
const steps = stepper({ rate: 120 });

const canvas = document.querySelector('canvas')!;
const renderer = new THREE.WebGLRenderer({ canvas, antialias: true });
const scene = new THREE.Scene();
scene.background = new THREE.Color(0xb9cbcb);
scene.fog = new THREE.Fog(0xb9cbcb, 18, 40);
const camera = new THREE.PerspectiveCamera(40, 1, 0.1, 100);
const sun = new THREE.DirectionalLight(0xfff2d6, 2.5);
sun.position.set(-4, 9, 8);
scene.add(sun, new THREE.HemisphereLight(0xdfeeee, 0x556660, 1.4));

const DEPTH = 2.4;
const colours = { still: 0x6f7f7a, mover: 0xa5762b, plank: 0x9c7a4a, brass: 0xc08f3c, dark: 0x2a2f2d };
const lambert = (color: number) => new THREE.MeshLambertMaterial({ color, side: THREE.DoubleSide });

/** What is solid, extruded; where a mover is, is known only each frame. */
const solids = mill.shapes().map(({ form, points, mover }) => {
  const outline = new THREE.Shape();
  const corners = form === 'solid' ? points : [...points, ...[...points].reverse().map(([x, y]) => [x, y - 0.15] as const)];
  corners.forEach(([x, y], i) => (i === 0 ? outline.moveTo(x, y) : outline.lineTo(x, y)));
  const mesh = new THREE.Mesh(
    new THREE.ExtrudeGeometry(outline, { depth: DEPTH, bevelEnabled: false }),
    lambert(mover ? colours.mover : form === 'solid' ? colours.still : colours.plank),
  );
  mesh.position.z = -DEPTH / 2;
  scene.add(mesh);
  return mesh;
}); // prettier-ignore

const figure = new THREE.Group();
const part = (w: number, h: number, d: number, x: number, y: number, color: number) => {
  const mesh = new THREE.Mesh(new THREE.BoxGeometry(w, h, d), lambert(color));
  mesh.position.set(x, y, 0);
  figure.add(mesh);
  return mesh;
};
part(0.62, 0.62, 0.5, 0, 0.68, colours.brass);
part(0.46, 0.4, 0.44, 0.02, 1.14, colours.brass);
part(0.1, 0.1, 0.3, 0.23, 1.18, colours.dark);
const legs = [part(0.18, 0.4, 0.18, 0, 0.2, colours.dark), part(0.18, 0.4, 0.18, 0, 0.2, colours.dark)];
scene.add(figure);

function resize(): void {
  renderer.setSize(innerWidth, innerHeight);
  camera.aspect = innerWidth / innerHeight;
  camera.updateProjectionMatrix();
}
addEventListener('resize', resize);
resize();

/** How high the camera looks. */
let eye = 3.6;
const readout = document.querySelector('output')!;

function frame(ms: number): void {
  steps.run(ms / 1000, (dt, at) => mill.tick(dt, at));
  mill.shapes(steps.between).forEach(({ x, y, on }, i) => {
    solids[i].position.x = x;
    solids[i].position.y = y;
    solids[i].visible = on;
  });
  const { x, y, facing, pose, strides, landing, posePhase, stepLag } = hero.view(steps.between);
  figure.position.set(x, y + stepLag, 0);
  figure.rotation.y = facing > 0 ? 0 : Math.PI;
  // Squashed by the landing, stretched by the rise.
  figure.scale.y = pose === 'land' ? 1 - 0.35 * landing * (1 - posePhase) : pose === 'rise' ? 1.08 : 1;
  legs.forEach((leg, i) => {
    const swing = pose === 'run' ? Math.sin((strides + i / 2) * 2 * Math.PI) : i - 0.5;
    leg.position.set(0.22 * swing, 0.2, i === 0 ? 0.12 : -0.12);
  });
  // It follows upward slowly, so that a jump does not shake the picture.
  eye += (Math.max(3.6, y + 0.6) - eye) * 0.06;
  camera.position.set(Math.max(9, Math.min(35, x)), eye + 2.4, 14.5);
  camera.lookAt(camera.position.x, eye, 0);
  renderer.render(scene, camera);
  readout.value = `${pose}, x ${x.toFixed(2)}, y ${y.toFixed(2)}`;
  Object.assign(readout.dataset, { pose, x: String(x), y: String(y), mover: hero.mover });
  requestAnimationFrame(frame);
}
requestAnimationFrame(frame);
