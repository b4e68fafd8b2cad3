// Judges a vehicle that draw_machine.mjs drew, and its trailer, by what an independent loader shows.
// usage: node judge_vehicle.mjs hubs PROJECT.glb NAME:X:Y:Z...          wheels stand where they were drawn (mm)
//        node judge_vehicle.mjs turns CLIP.glb RATE FRAMES METRES NAME:RADIUS_MM...      straight on over the floor
//        node judge_vehicle.mjs body CLIP.glb RATE FRAMES YAW BODY WHEEL...
//        node judge_vehicle.mjs trailer PROJECT.glb CLIP.glb RATE FRAMES PULLER TRAILER HITCH_X_M HITCH_Z_M LENGTH_M
import { check, load, node, player, three, toCore } from './shown.mjs';

const Vec = three.Vector3;
const placeOf = (object) => toCore(new Vec().setFromMatrixPosition(object.matrixWorld));
/// A direction of a node, told and given in the application's axes.
const directionOf = (object, x, y, z) => toCore(new Vec(y, z, x).transformDirection(object.matrixWorld));

const [what, file, ...args] = process.argv.slice(2);
const gltf = await load(file);
if (what === 'hubs') {
  for (const wheel of args) {
    const [name, ...millimetres] = wheel.split(':');
    const drawn = new Vec(...millimetres.map((x) => Number(x) / 1000));
    check(`hub of ${name} stands off where it was drawn by`, placeOf(node(gltf, name)).distanceTo(drawn), 0, 2e-6);
  }
} else if (what === 'turns') {
  const [rate, frames, metres, ...wheels] = args;
  const goTo = player(gltf, rate);
  for (const wheel of wheels) {
    const [name, radius] = wheel.split(':');
    const top = node(gltf, name);
    let turned = 0;
    goTo(0);
    let last = top.getWorldQuaternion(new three.Quaternion());
    for (let f = 0.25; f <= Number(frames); f += 0.25) {
      goTo(f);
      const now = top.getWorldQuaternion(new three.Quaternion());
      const step = now.clone().multiply(last.clone().conjugate());
      turned += 2 * Math.atan2(toCore(step).y * Math.sign(step.w), Math.abs(step.w));
      last = now;
    }
    check(`${name} turns over ${metres} m by [rad]`, turned, Number(metres) / (Number(radius) / 1000), 2e-4);
  }
} else if (what === 'body') {
  // The body's upright stands on the plane that fits the way of its hubs best, by the normal equations, at every frame.
  const [rate, frames, yaw, body, ...wheels] = args;
  const carrier = node(gltf, yaw), tops = wheels.map((name) => node(gltf, name));
  const seen = () => tops.map((top) => toCore(new Vec().setFromMatrixPosition(carrier.matrixWorld.clone().invert().multiply(top.matrixWorld))));
  const rest = seen(), goTo = player(gltf, rate);
  let worst = 0, steepest = 0, lifted = 0;
  for (let f = 0; f <= Number(frames); f += 0.5) {
    goTo(f);
    const rows = seen().map((p, i) => [1, p.x, p.y, p.z - rest[i].z]);
    const sum = (a, b) => rows.reduce((s, r) => s + r[a] * r[b], 0);
    const m = new three.Matrix3().set(sum(0, 0), sum(0, 1), sum(0, 2), sum(1, 0), sum(1, 1), sum(1, 2), sum(2, 0), sum(2, 1), sum(2, 2));
    const fit = new Vec(sum(0, 3), sum(1, 3), sum(2, 3)).applyMatrix3(m.invert());
    const wanted = new Vec(-fit.y, -fit.z, 1).normalize();
    const up = directionOf(node(gltf, body), 0, 0, 1), back = carrier.getWorldQuaternion(new three.Quaternion()).conjugate();
    const inCarrier = toCore(new Vec(up.y, up.z, up.x).applyQuaternion(back));
    worst = Math.max(worst, inCarrier.angleTo(wanted));
    steepest = Math.max(steepest, wanted.angleTo(new Vec(0, 0, 1)));
    lifted = Math.max(lifted, Math.abs(fit.x));
  }
  console.log(`planes through the hubs lean by up to ${steepest.toFixed(4)} rad and rise by up to ${lifted.toFixed(4)} m`);
  if (!(steepest > 0.03)) throw new Error('the ground is too even to judge a body by');
  check('the body leans off the plane through its hubs by [rad]', worst, 0, 0.025 * steepest);
} else if (what === 'trailer') {
  // A trailer on one axle goes where its wheels point: its heading is integrated from the hitch's way in small steps.
  const [clip, rate, frames, puller, trailer, ...numbers] = args;
  const [hitchX, hitchZ, length] = numbers.map(Number);
  const hitch = new Vec(0, hitchZ, hitchX).applyMatrix4(node(gltf, puller).matrixWorld.clone().invert());
  const moving = await load(clip), goTo = player(moving, rate);
  const seen = (frame) => {
    goTo(frame);
    const ahead = directionOf(node(moving, trailer), 1, 0, 0);
    return { at: toCore(hitch.clone().applyMatrix4(node(moving, puller).matrixWorld)), heading: Math.atan2(ahead.y, ahead.x) };
  };
  let last = seen(0), heading = last.heading, worst = 0, bend = 0;
  const looks = 8, steps = 64;
  for (let i = 1; i <= Number(frames) * looks; ++i) {
    const now = seen(i / looks), way = new Vec().subVectors(now.at, last.at).divideScalar(steps);
    for (let k = 0; k < steps; ++k) {
      const turn = (a) => (way.y * Math.cos(a) - way.x * Math.sin(a)) / length;
      heading += turn(heading + 0.5 * turn(heading));
    }
    const off = Math.abs(Math.atan2(Math.sin(now.heading - heading), Math.cos(now.heading - heading)));
    worst = Math.max(worst, off);
    bend = Math.max(bend, Math.abs(Math.atan2(way.y, way.x) - heading));
    last = now;
  }
  if (!(bend > 0.1)) throw new Error(`the trailer is never pulled aside: ${bend} rad at most`);
  check(`heading of '${trailer}', pulled aside by up to ${bend.toFixed(3)} rad, is off by [rad]`, worst, 0, 1e-3);
} else {
  throw new Error(`'${what}' is nothing that can be judged`);
}
