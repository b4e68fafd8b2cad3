// Loads a delivered spring with an independent loader, plays it with that loader's mixer and bones, and judges it by what
// is to be seen: both ends of its wire stay as far from their seats, about which they may only turn, and the space its
// wire fills stays the same however far it is drawn out, so the wire keeps its thickness. Seats, and the middles of
// the wire's first and last ring of corners, are places at rest.
// usage: node judge_spring.mjs FILE.glb FRAMES_A_SECOND FRAMES SPRING WIRE_M NEAR:X,Y,Z:RING_X,Y,Z FAR:X,Y,Z:RING_X,Y,Z
import { check, load, node as nodeIn, player, three } from './shown.mjs';

const [file, rate, frames, spring, wire, ...held] = process.argv.slice(2);
const gltf = await load(file);
const place = (words) => toCoreAxes(words.split(',').map(Number));
const toCoreAxes = ([x, y, z]) => new three.Vector3(y, z, x);
const seats = held.map((words) => {
  const [name, at] = words.split(':'), object = nodeIn(gltf, name);
  const own = place(at).applyMatrix4(object.matrixWorld.clone().invert());
  return () => own.clone().applyMatrix4(object.matrixWorld);
});
const goTo = player(gltf, rate);
let mesh;
nodeIn(gltf, `${spring} shape`).traverse((object) => (mesh ??= object.isSkinnedMesh ? object : undefined));
const count = mesh.geometry.attributes.position.count, index = mesh.geometry.index;
const shown = () => [...Array(count).keys()].map((i) => mesh.getVertexPosition(i, new three.Vector3()).applyMatrix4(mesh.matrixWorld));
const volume = (places) => {
  let sum = 0;
  for (let i = 0; i < index.count; i += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => places[index.getX(i + k)]);
    sum += a.dot(new three.Vector3().crossVectors(b, c)) / 6;
  }
  return Math.abs(sum);
};
// The ends are the corners about the middles of the first and last rings, at rest.
const resting = shown();
const ends = held.map((words) => {
  const ring = place(words.split(':')[2]);
  return resting.map((p, i) => i).filter((i) => resting[i].distanceTo(ring) < 0.55 * Number(wire));
});
if (!ends.every((ids) => ids.length > 5)) console.error('its ends are not where they should be'), process.exit(1);
goTo(0);
const begun = shown();
const middle = (places, ids) => ids.reduce((sum, i) => sum.add(places[i]), new three.Vector3()).divideScalar(ids.length);
const apart = (places, k) => middle(places, ends[k]).distanceTo(seats[k]());
const first = [0, 1].map((k) => apart(begun, k)), filled = volume(begun);
let off = 0, thinner = 0, longest = 0, shortest = Infinity;
for (let frame = 0; frame <= Number(frames); frame += 0.25) {
  goTo(frame);
  const places = shown();
  for (const k of [0, 1]) off = Math.max(off, Math.abs(apart(places, k) - first[k]));
  thinner = Math.max(thinner, Math.abs(volume(places) / filled - 1));
  const length = middle(places, ends[0]).distanceTo(middle(places, ends[1]));
  longest = Math.max(longest, length), shortest = Math.min(shortest, length);
}
console.log(`${file}: ${(shortest * 1e3).toFixed(1)} to ${(longest * 1e3).toFixed(1)} mm long`);
if (!(longest > 1.5 * shortest)) console.error('it is not drawn out'), process.exit(1);
// Facets of a coil drawn out to three times its length are as much off as this; evenly it would be three times as much.
check('wire fills as much', 1 + thinner, 1, 0.015);
check('ends off their seats', off, 0, 0.0005);
