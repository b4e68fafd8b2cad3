// Loads a delivered file with an independent loader, plays it with that loader's mixer, and compares the world
// matrix of every part at every frame with the table that `pivrak-cli bake` wrote.
// With a print and the wheel that leaves it, rolling along x on the floor: at every frame the print must end
// below the wheel's hub.
// usage: node compare_three.mjs FILE.glb TABLE.csv FRAMES_A_SECOND [PRINT WHEEL]
import { readFileSync } from 'node:fs';
import { coreFromGltf, load, nameOf, player, three } from './shown.mjs';

const allowed_m = 1e-5;
const allowed_deg = 0.001;
const allowed_print_m = 1e-4;
const [file, table, rate, print, wheel] = process.argv.slice(2);

// The table, as frame -> part -> 16 numbers row by row. Names with commas are quoted.
const rows = readFileSync(table, 'utf8').trim().split('\n').slice(1).map((line) => {
  const numbers = line.split(',').slice(-16).map(Number);
  const head = line.split(',').slice(0, -16).join(',');
  const comma = head.indexOf(',');
  return { frame: Number(head.slice(0, comma)), part: head.slice(comma + 1).replace(/^"|"$/g, '').replace(/""/g, '"'), numbers };
});

const gltfFromCore = coreFromGltf.clone().transpose();

const gltf = await load(file);

const nodes = new Map();
const used = new Map();
const visit = (object, above) => {
  const name = nameOf(gltf, object);
  if (name === undefined) return object.children.forEach((child) => visit(child, above));
  const path = above + name;
  nodes.set(`${path}#${used.get(path) ?? 0}`, object);
  used.set(path, (used.get(path) ?? 0) + 1);
  object.children.forEach((child) => visit(child, path + '/'));
};
gltf.scene.children.forEach((child) => visit(child, ''));

const goTo = player(gltf, rate);

// How far along x a print is to be seen, as the loader places its strips.
const printEnd = (top) => {
  let end = -Infinity;
  top.traverse((object) => {
    if (!object.isMesh) return;
    // A strip that has not begun is a line where it will begin.
    if (Math.min(...[0, 4, 8].map((i) => Math.hypot(...object.matrixWorld.elements.slice(i, i + 3)))) < 1e-4) return;
    const places = object.geometry.attributes.position;
    for (let i = 0; i < places.count; ++i)
      end = Math.max(end, new three.Vector3().fromBufferAttribute(places, i).applyMatrix4(object.matrixWorld).applyMatrix4(coreFromGltf).x);
  });
  return end;
};

const first = rows[0].frame;
let worst_print_m = 0, prints = 0;
let worst_m = 0, worst_deg = 0, compared = 0, frame = NaN;
let seen = new Map();
for (const row of rows) {
  if (row.frame !== frame) {
    frame = row.frame;
    seen = new Map();
    goTo(frame - first);
  }
  const index = seen.get(row.part) ?? 0;
  seen.set(row.part, index + 1);
  const object = nodes.get(`${row.part}#${index}`);
  if (!object) throw new Error(`no node '${row.part}' in ${file}`);
  const theirs = coreFromGltf.clone().multiply(object.matrixWorld).multiply(gltfFromCore);
  const ours = new three.Matrix4().set(...row.numbers);
  const a = new three.Vector3(), b = new three.Vector3(), qa = new three.Quaternion(), qb = new three.Quaternion(), s = new three.Vector3();
  theirs.decompose(a, qa, s);
  ours.decompose(b, qb, s);
  const turn = qa.conjugate().multiply(qb);
  const degrees = (2 * Math.atan2(Math.hypot(turn.x, turn.y, turn.z), Math.abs(turn.w)) * 180) / Math.PI;
  worst_m = Math.max(worst_m, a.distanceTo(b));
  worst_deg = Math.max(worst_deg, degrees);
  ++compared;
  if (print && frame > first && (row.part === wheel || row.part.endsWith(`/${wheel}`))) {
    worst_print_m = Math.max(worst_print_m, Math.abs(printEnd(nodes.get(`${print}#0`)) - b.x));
    ++prints;
  }
}
console.log(`${compared} frames of parts compared: largest error ${worst_m.toExponential(2)} m, ${worst_deg.toExponential(2)} degrees`);
if (print) console.log(`${prints} frames of '${print}' compared: ends within ${worst_print_m.toExponential(2)} m`);
if (print && (prints < 10 || !(worst_print_m <= allowed_print_m))) process.exit(1);
if (compared < 100 || !(worst_m <= allowed_m) || !(worst_deg <= allowed_deg)) process.exit(1);
