// Loads a delivered file with an independent loader, plays it with that loader's mixer, and judges a linkage by what is
// to be seen: two parts that share a pin at the clip's start share it to the end, and the halves of a ram stay on one
// line. At sampled moments to a thousandth of a millimetre and of a degree; half way between them arcs go straight.
// usage: node judge_linkage.mjs FILE.glb FRAMES_A_SECOND FRAMES SAMPLES_A_FRAME BETWEEN_M (pin:A:B:X,Y,Z | ram:BARREL:ROD)...
import { load, node as nodeIn, player, three } from './shown.mjs';

const [file, rate, frames, samples, between, ...asked] = process.argv.slice(2);
const gltf = await load(file);
const goTo = player(gltf, rate);
goTo(0);
// The application has X ahead, Y left and Z up; glTF has Z ahead, X left and Y up.
const fromCore = ([x, y, z]) => new three.Vector3(y, z, x);
const judges = asked.map((words) => {
  const [kind, first, second, place] = words.split(':');
  const a = nodeIn(gltf, first), b = nodeIn(gltf, second);
  if (kind === 'pin') {
    const at = fromCore(place.split(',').map(Number));
    const inA = at.clone().applyMatrix4(a.matrixWorld.clone().invert()), inB = at.clone().applyMatrix4(b.matrixWorld.clone().invert());
    return () => [inA.clone().applyMatrix4(a.matrixWorld).distanceTo(inB.clone().applyMatrix4(b.matrixWorld)), 0];
  }
  // Which own axis of the rod lies along the line from one to the other at the start, in each half's frame.
  const origin = (object) => new three.Vector3().setFromMatrixPosition(object.matrixWorld);
  const line = origin(b).sub(origin(a)).normalize();
  const own = (object) => line.clone().transformDirection(object.matrixWorld.clone().invert());
  const inA = own(a), inB = own(b);
  return () => {
    const wayA = inA.clone().transformDirection(a.matrixWorld), wayB = inB.clone().transformDirection(b.matrixWorld);
    const apart = origin(b).sub(origin(a));
    return [apart.clone().addScaledVector(wayA, -apart.dot(wayA)).length(), wayA.angleTo(wayB)];
  };
});
let worst = 0, tilt = 0, open = 0, moved = 0;
const start = nodeIn(gltf, asked[0].split(':')[1]).matrixWorld.clone();
for (let k = 0; k <= frames * samples * 2; ++k) {
  goTo(k / samples / 2);
  const sampled = k % 2 === 0;
  for (const judge of judges) {
    const [apart, angle] = judge();
    if (sampled) worst = Math.max(worst, apart), tilt = Math.max(tilt, angle);
    else open = Math.max(open, apart);
  }
  const now = nodeIn(gltf, asked[0].split(':')[1]).matrixWorld;
  moved = Math.max(moved, ...now.elements.map((value, i) => Math.abs(value - start.elements[i])));
}
const degrees = (tilt * 180) / Math.PI;
console.log(`${file}: pins ${(worst * 1e6).toFixed(3)} um apart at samples, ${(open * 1e6).toFixed(1)} um between; halves ${degrees.toFixed(6)} deg askew`);
if (!(moved > 0.01)) console.error('nothing moves'), process.exit(1);
if (!(worst < 1e-6 && degrees < 1e-3 && open < Number(between))) console.error('a linkage comes apart'), process.exit(1);
