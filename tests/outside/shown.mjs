// What an independent loader shows of a file: its nodes by name, the same at any frame of its first clip.
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { pathToFileURL } from 'node:url';

const require = createRequire(process.env.OUTSIDE_MODULES + '/');
globalThis.self = globalThis;
globalThis.ProgressEvent ??= class {};
export const three = await import(pathToFileURL(require.resolve('three')).href.replace('three.cjs', 'three.module.js'));
const { GLTFLoader } = await import(pathToFileURL(require.resolve('three/examples/jsm/loaders/GLTFLoader.js')).href);

/// The loader's scene at rest. It changes names for its own use; `nameOf` gives those of the file.
export const load = async (file) => {
  const bytes = readFileSync(file);
  const gltf = await new GLTFLoader().parseAsync(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength), '');
  gltf.scene.updateMatrixWorld(true);
  return gltf;
};
export const nameOf = (gltf, object) => {
  const node = gltf.parser.associations.get(object)?.nodes;
  return node === undefined ? undefined : gltf.parser.json.nodes[node].name ?? '';
};

/// The first node of that name.
export const node = (gltf, name) => {
  let found;
  gltf.scene.traverse((object) => {
    if (!found && nameOf(gltf, object) === name) found = object;
  });
  if (!found) throw new Error(`no node '${name}'`);
  return found;
};

/// Shows the first clip at a frame, counted from its start.
export const player = (gltf, rate) => {
  const mixer = new three.AnimationMixer(gltf.scene);
  const action = mixer.clipAction(gltf.animations[0]);
  action.setLoop(three.LoopOnce);
  action.clampWhenFinished = true;
  action.play();
  return (frame) => {
    action.paused = false;  // it has stopped once its end was shown
    mixer.setTime(frame / Number(rate));
    gltf.scene.updateMatrixWorld(true);
  };
};

/// The application has X ahead, Y left and Z up; glTF has Z ahead, X left and Y up.
export const coreFromGltf = new three.Matrix4().set(0, 0, 1, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0, 1);
export const toCore = (v) => new three.Vector3(v.z, v.x, v.y);

/// Says a number and ends the program when it is not what it should be.
export const check = (what, value, wanted, allowed) => {
  console.log(`${what}: ${value.toPrecision(8)}, wanted ${wanted.toPrecision(8)}`);
  if (!(Math.abs(value - wanted) <= allowed)) {
    console.error(`${what} is off by ${Math.abs(value - wanted)} (allowed ${allowed})`);
    process.exit(1);
  }
};
