// Runs the standard's validator over glTF files: no error, no warning.
// usage: node validate.mjs FILE...
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';

const require = createRequire(process.env.OUTSIDE_MODULES + '/');
const validator = require('gltf-validator');

// Where a mesh has no tangents, who shows it makes them, as the standard asks (3.7.2.1).
const ignoredIssues = ['MESH_PRIMITIVE_GENERATED_TANGENT_SPACE'];

let bad = 0;
for (const file of process.argv.slice(2)) {
  const report = await validator.validateBytes(new Uint8Array(readFileSync(file)), { uri: file, maxIssues: 50, ignoredIssues });
  const { numErrors, numWarnings } = report.issues;
  console.log(`${file}: ${numErrors} errors, ${numWarnings} warnings`);
  for (const issue of report.issues.messages.filter((m) => m.severity < 2)) console.log(`  ${issue.code} ${issue.pointer}: ${issue.message}`);
  if (numErrors + numWarnings > 0) bad = 1;
}
process.exit(bad);
