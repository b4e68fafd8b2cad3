// Loads a delivered file with an independent loader, plays it with that loader's mixer, and judges wheels by what is
// to be seen: how far the place of a tyre that touches is dragged along, at sixteenths of a frame, and, with a ground,
// how far the tyre's own corners stand off it at quarters of a frame.
// usage: node judge_wheels.mjs FILE.glb FRAMES_A_SECOND FRAMES SLIP_A_METRE GROUND|- WHEEL...
import { load, node as nodeIn, player, three } from './shown.mjs';

const [file, rate, frames, allowed, groundName, ...wheelNames] = process.argv.slice(2);
const allowedGap = 0.002;
const Vec = three.Vector3;
const gltf = await load(file);
const node = (name) => nodeIn(gltf, name);
const goTo = player(gltf, rate);

// Corners of everything below a node, in its own frame.
const cornersOf = (top) => {
  const corners = [], inverse = top.matrixWorld.clone().invert();
  top.traverse((object) => {
    if (!object.isMesh) return;
    const places = object.geometry.attributes.position;
    for (let i = 0; i < places.count; ++i)
      corners.push(new Vec().fromBufferAttribute(places, i).applyMatrix4(object.matrixWorld).applyMatrix4(inverse));
  });
  return corners;
};

// The ground's triangles in squares seen from above (glTF: Y is up).
const square = 0.5, cells = new Map();
if (groundName !== '-') {
  goTo(0);
  node(groundName).traverse((object) => {
    if (!object.isMesh) return;
    const places = object.geometry.attributes.position, index = object.geometry.index;
    for (let t = 0; t < index.count; t += 3) {
      const corner = [0, 1, 2].map((k) => new Vec().fromBufferAttribute(places, index.getX(t + k)).applyMatrix4(object.matrixWorld));
      const low = (axis) => Math.floor(Math.min(...corner.map((c) => c[axis])) / square);
      const high = (axis) => Math.floor(Math.max(...corner.map((c) => c[axis])) / square);
      for (let i = low('x'); i <= high('x'); ++i)
        for (let j = low('z'); j <= high('z'); ++j) {
          const key = `${i} ${j}`;
          if (!cells.has(key)) cells.set(key, []);
          cells.get(key).push(corner);
        }
    }
  });
}
const heightAt = (x, z) => {
  let highest = -Infinity;
  for (const [a, b, c] of cells.get(`${Math.floor(x / square)} ${Math.floor(z / square)}`) ?? []) {
    const size = (b.z - c.z) * (a.x - c.x) + (c.x - b.x) * (a.z - c.z);
    if (size === 0) continue;
    const u = ((b.z - c.z) * (x - c.x) + (c.x - b.x) * (z - c.z)) / size;
    const v = ((c.z - a.z) * (x - c.x) + (a.x - c.x) * (z - c.z)) / size;
    if (u < -1e-9 || v < -1e-9 || u + v > 1 + 1e-9) continue;
    highest = Math.max(highest, u * a.y + v * b.y + (1 - u - v) * c.y);
  }
  return highest;
};

goTo(0);
const wheels = wheelNames.map((name) => {
  const top = node(name), corners = cornersOf(top);
  const before = top.quaternion.clone();
  let axle = null;
  for (let f = 0.125; f <= Number(frames) && !axle; f += 0.125) {
    goTo(f);
    const turn = before.clone().conjugate().multiply(top.quaternion);
    const way = new Vec(turn.x, turn.y, turn.z);
    if (way.length() > 0.1) axle = way.normalize();
  }
  if (!axle) throw new Error(`'${name}' does not turn`);
  const distance = (c) => c.clone().addScaledVector(axle, -c.dot(axle)).length();
  const radius = Math.max(...corners.map(distance));
  const tread = corners.filter((c) => distance(c) > 0.995 * radius).map((c) => c.dot(axle));
  const middle = 0.5 * (Math.min(...tread) + Math.max(...tread));
  // A tyre's corners touch now and then only: between two of them its chord stands off by the arrow of the arc.
  const angles = new Set(corners.filter((c) => distance(c) > 0.995 * radius).map((c) => {
    const u = Math.abs(axle.y) < 0.9 ? new Vec(0, 1, 0) : new Vec(1, 0, 0);
    const e = u.addScaledVector(axle, -u.dot(axle)).normalize(), g = axle.clone().cross(e);
    return Math.round((Math.atan2(c.dot(g), c.dot(e)) * 1800) / Math.PI);
  }));
  const arrow = radius * (1 - Math.cos(Math.PI / angles.size));
  return { name, top, corners, axle, radius, middle, arrow, slid: 0, worst: 0, way: 0, gap: -Infinity, sunk: -Infinity };
});
const stand = (w) => {
  const axle = w.axle.clone().transformDirection(w.top.matrixWorld);
  const q = new three.Quaternion().setFromRotationMatrix(new three.Matrix4().extractRotation(w.top.matrixWorld));
  return { axle, hub: new Vec().setFromMatrixPosition(w.top.matrixWorld).addScaledVector(axle, w.middle), q };
};
goTo(0);
for (const w of wheels) w.last = stand(w);
const steps = 16;
for (let i = 1; i <= Number(frames) * steps; ++i) {
  goTo(i / steps);
  for (const w of wheels) {
    const now = stand(w), moved = now.hub.clone().sub(w.last.hub), axle = now.axle.clone().add(w.last.axle).normalize();
    const inPlane = moved.clone().addScaledVector(axle, -moved.dot(axle)), way = inPlane.length();
    // Forward is level at the start and goes on from there, upside down as well.
    const forward = w.forward ?? axle.clone().cross(new Vec(0, 1, 0));
    if (way > 1e-9) w.forward = inPlane.clone().multiplyScalar(Math.sign(inPlane.dot(forward)) / way);
    const turn = now.q.clone().multiply(w.last.q.clone().conjugate());
    const turned = 2 * Math.atan2(new Vec(turn.x, turn.y, turn.z).dot(axle), Math.abs(turn.w)) * Math.sign(turn.w || 1);
    w.slid += Math.sign(inPlane.dot(forward)) * way - w.radius * turned;
    w.worst = Math.max(w.worst, Math.abs(w.slid));
    w.way += way;
    w.last = now;
    if (groundName === '-' || i % (steps / 4) !== 0) continue;
    let gap = Infinity;
    for (const c of w.corners) {
      const at = c.clone().applyMatrix4(w.top.matrixWorld);
      if (at.y < now.hub.y - 0.5 * w.radius) gap = Math.min(gap, at.y - heightAt(at.x, at.z));
    }
    w.gap = Math.max(w.gap, gap - w.arrow);
    w.sunk = Math.max(w.sunk, -gap);
  }
}
let bad = wheels.length === 0;
for (const w of wheels) {
  const share = w.worst / w.way;
  console.log(`${w.name}: radius ${w.radius.toFixed(4)} m, ${w.way.toFixed(3)} m, dragged ${(1e3 * w.worst).toFixed(4)} mm (${(1e3 * share).toFixed(5)} mm/m)` +
    (groundName === '-' ? '' : `, off the ground ${(1e3 * w.gap).toFixed(3)} mm, in it ${(1e3 * w.sunk).toFixed(3)} mm`));
  bad ||= !(w.way > 1) || !(share <= Number(allowed));
  if (groundName !== '-') bad ||= !(w.gap <= allowedGap) || !(w.sunk <= allowedGap);
}
process.exit(bad ? 1 : 0);
