// Judges cuts, creases and paths laid on the ground from what an independent loader shows of delivered files, each by
// another route than the application takes.
// usage: node judge_shapes.mjs cut WHOLE.glb HALVES.glb PART PX PY PZ NX NY NZ   (axes of the application)
//        node judge_shapes.mjs creases WHOLE.glb PART DEGREES RESULT.json
//        node judge_shapes.mjs gears RESULT.json TEETH.json FIRST SECOND MODULE_M
//        node judge_shapes.mjs repeats DRAWN.obj SHARED.glb SHAPES   (the drawing in mm, X ahead, Z up)
//        node judge_shapes.mjs project INFO.json PROJECT.glb
//        node judge_shapes.mjs drape GROUND.glb PART PATH.obj HEIGHT_M ALLOWED_M
import { readFileSync } from 'node:fs';
import { check, load, nameOf, three, toCore } from './shown.mjs';
const Vec = three.Vector3;

/// Triangles of all meshes at and below the nodes whose name begins so, in the application's axes.
const trianglesOf = (gltf, name) => {
  const found = [];
  gltf.scene.traverse((object) => {
    if (!object.isMesh) return;
    let inside = false;
    for (let above = object; above; above = above.parent) inside ||= nameOf(gltf, above)?.startsWith(name);
    if (!inside) return;
    const position = object.geometry.getAttribute('position'), index = object.geometry.getIndex();
    const count = index ? index.count : position.count;
    for (let i = 0; i < count; i += 3)
      found.push([0, 1, 2].map((k) => toCore(new Vec().fromBufferAttribute(position, index ? index.getX(i + k) : i + k).applyMatrix4(object.matrixWorld))));
  });
  if (!found.length) throw new Error(`nothing is called '${name}'`);
  return found;
};
const volumeOf = (triangles) => triangles.reduce((sum, [a, b, c]) => sum + a.dot(new Vec().crossVectors(b, c)) / 6, 0);
const areaOf = ([a, b, c]) => 0.5 * new Vec().crossVectors(new Vec().subVectors(b, a), new Vec().subVectors(c, a)).length();
const [what, ...args] = process.argv.slice(2);
if (what === 'cut') {
  const [whole, halves, part, ...numbers] = args;
  const [px, py, pz, nx, ny, nz] = numbers.map(Number);
  const point = new Vec(px, py, pz), normal = new Vec(nx, ny, nz).normalize();
  const before = trianglesOf(await load(whole), part), after = await load(halves);
  const a = trianglesOf(after, `${part} A`), b = trianglesOf(after, `${part} B`);
  const volume = volumeOf(before);
  check('volume of both halves', volumeOf(a) + volumeOf(b), volume, 2e-6 * volume);
  // The section's area by Green's theorem over the lines in which the plane meets the whole's triangles, each directed
  // by its triangle's outside.
  let section = 0;
  for (const t of before) {
    const height = t.map((p) => new Vec().subVectors(p, point).dot(normal)), ends = [];
    for (let k = 0; k < 3; ++k) {
      const l = (k + 1) % 3;
      if (height[k] > 0 !== height[l] > 0) ends.push(new Vec().lerpVectors(t[k], t[l], height[k] / (height[k] - height[l])));
    }
    if (ends.length !== 2) continue;
    const outside = new Vec().crossVectors(new Vec().subVectors(t[1], t[0]), new Vec().subVectors(t[2], t[0]));
    let [from, to] = ends.map((e) => new Vec().subVectors(e, point));
    if (new Vec().crossVectors(new Vec().subVectors(to, from), normal).dot(outside) < 0) [from, to] = [to, from];
    section += 0.5 * new Vec().crossVectors(from, to).dot(normal);
  }
  for (const [name, half] of [['A', a], ['B', b]]) {
    const cap = half.filter((t) => t.every((p) => Math.abs(new Vec().subVectors(p, point).dot(normal)) < 1e-6));
    check(`cap of half ${name}`, cap.reduce((sum, t) => sum + areaOf(t), 0), Math.abs(section), 2e-5 * Math.abs(section));
    const above = half.every((t) => t.every((p) => (name === 'A' ? 1 : -1) * new Vec().subVectors(p, point).dot(normal) > -1e-6));
    if (!above) throw new Error(`half ${name} reaches over the plane`);
  }
} else if (what === 'creases') {
  const [file, part, degrees, result] = args;
  const pieces = JSON.parse(readFileSync(result)).readings.find((r) => r.pieces).pieces;
  const triangles = trianglesOf(await load(file), part);
  const key = (p) => p.toArray().map((x) => Math.round(x * 1e5)).join(' ');
  const normal = triangles.map(([a, b, c]) => new Vec().crossVectors(new Vec().subVectors(b, a), new Vec().subVectors(c, a)).normalize());
  const edges = new Map();
  triangles.forEach((t, i) => {
    for (let k = 0; k < 3; ++k) {
      const name = [key(t[k]), key(t[(k + 1) % 3])].sort().join('|');
      edges.set(name, [...(edges.get(name) ?? []), i]);
    }
  });
  const root = triangles.map((_, i) => i);
  const find = (i) => (root[i] === i ? i : (root[i] = find(root[i])));
  for (const faces of edges.values())
    for (let k = 1; k < faces.length; ++k)
      if (normal[faces[0]].angleTo(normal[faces[k]]) <= (Number(degrees) * Math.PI) / 180) root[find(faces[0])] = find(faces[k]);
  check('smooth surfaces', new Set(root.map((_, i) => find(i))).size, pieces, 0);
} else if (what === 'gears') {
  const [result, teeth, first, second, module] = args;
  const found = JSON.parse(readFileSync(result)).readings.find((r) => r.parts).parts;
  [first, second].forEach((wanted, i) => {
    check(`teeth of gear ${i + 1}`, found[i].teeth, Number(wanted), 0);
    check('its module', found[i].module_m, Number(module), 2e-6);
  });
  check('the deepest two teeth reach into each other over a turn', JSON.parse(readFileSync(teeth))[0].deepest_m, 0, 0.01 * module);
} else if (what === 'repeats') {
  // What shares a shape now still shows every corner that was drawn, and none besides.
  const [drawn, shared, shapes] = args;
  const gltf = await load(shared), seen = [], wanted = [], used = new Set();
  gltf.scene.traverse((object) => {
    if (!object.isMesh) return;
    const position = object.geometry.getAttribute('position');
    used.add(position);
    for (let i = 0; i < position.count; ++i) seen.push(toCore(new Vec().fromBufferAttribute(position, i).applyMatrix4(object.matrixWorld)));
  });
  for (const line of readFileSync(drawn, 'utf8').split('\n'))
    if (line.startsWith('v ')) wanted.push(new Vec(...line.split(' ').slice(1).map((x) => Number(x) / 1000)));
  const farthest = (from, to) => Math.max(...from.map((p) => Math.min(...to.map((q) => p.distanceTo(q)))));
  check('corners drawn and not seen, the farthest off', farthest(wanted, seen), 0, 1e-6);
  check('corners seen and not drawn, the farthest off', farthest(seen, wanted), 0, 1e-6);
  check('different shapes', used.size, Number(shapes), 0);
} else if (what === 'project') {
  // A project opened by another's loader shows every part where the application says it stands at rest. A shape that is
  // shared, or stands off its part's frame, has a node of its own below the part's.
  const [info, file] = args;
  const gltf = await load(file), shown = new Map(), parts = JSON.parse(readFileSync(info)).parts, known = new Set(parts.map((p) => p.path));
  const visit = (object, above) => {
    const name = nameOf(gltf, object), path = name === undefined ? above : above ? `${above}/${name}` : name;
    if (name !== undefined && !shown.has(path)) shown.set(path, { place: toCore(new Vec().setFromMatrixPosition(object.matrixWorld)), corners: [] });
    if (object.isMesh) {
      const position = object.geometry.getAttribute('position'), part = known.has(path) ? path : path.slice(0, path.lastIndexOf('/'));
      for (let i = 0; i < position.count; ++i) shown.get(part).corners.push(toCore(new Vec().fromBufferAttribute(position, i).applyMatrix4(object.matrixWorld)));
    }
    object.children.forEach((child) => visit(child, path));
  };
  gltf.scene.children.forEach((child) => visit(child, ''));
  let seen = 0, bodies = 0, pivots = 0, bounds = 0;
  const once = parts.filter((part, _, all) => all.filter((p) => p.path === part.path).length === 1);
  for (const part of once) {
    const there = shown.get(part.path);
    if (!there) throw new Error(`'${part.path}' is not shown`);
    ++seen;
    pivots = Math.max(pivots, there.place.distanceTo(new Vec(...part.pivot_m)));
    if (!part.bounds_m) continue;
    ++bodies;
    const box = new three.Box3().setFromPoints(there.corners);
    bounds = Math.max(bounds, box.min.distanceTo(new Vec(...part.bounds_m.min)), box.max.distanceTo(new Vec(...part.bounds_m.max)));
  }
  if (bodies < 5) throw new Error('too few parts have a shape');
  check(`pivots of ${seen} parts, the farthest off`, pivots, 0, 1e-5);
  check(`corners of the boxes round ${bodies} of them, the farthest off`, bounds, 0, 1e-5);
} else if (what === 'drape') {
  const [file, part, path, height, allowed] = args;
  const triangles = trianglesOf(await load(file), part);
  const points = readFileSync(path, 'utf8').split('\n').filter((l) => l.startsWith('v ')).map((l) => toCore(new Vec(...l.split(/\s+/).slice(1, 4).map(Number))));
  let worst = 0;
  for (const p of points) {
    let highest = -Infinity;
    for (const [a, b, c] of triangles) {
      const d = (b.x - a.x) * (c.y - a.y) - (c.x - a.x) * (b.y - a.y);
      const u = ((p.x - a.x) * (c.y - a.y) - (c.x - a.x) * (p.y - a.y)) / d, v = ((b.x - a.x) * (p.y - a.y) - (p.x - a.x) * (b.y - a.y)) / d;
      if (u >= -1e-9 && v >= -1e-9 && u + v <= 1 + 1e-9) highest = Math.max(highest, a.z + u * (b.z - a.z) + v * (c.z - a.z));
    }
    worst = Math.max(worst, Math.abs(p.z - highest - Number(height)));
  }
  check(`${points.length} places above the ground, the worst`, worst, 0, Number(allowed));
} else {
  throw new Error(`'${what}' is nothing that can be judged`);
}
