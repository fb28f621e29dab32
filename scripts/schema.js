// Writes the JSON Schemas of the files people write, from the same definitions that the readers use.
import { mkdirSync, writeFileSync } from 'node:fs';
import { jsonSchemas } from '../packages/apperin/dist/files/index.js';

const folder = new URL('../schema/', import.meta.url);
mkdirSync(folder, { recursive: true });
for (const [name, schema] of Object.entries(jsonSchemas()))
  writeFileSync(new URL(name, folder), `${JSON.stringify(schema, null, 2)}\n`);
