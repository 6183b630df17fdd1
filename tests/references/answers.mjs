// Answers of the server, one JSON document a line on standard input, against the forms in its OpenAPI document: prints those that do not fit.
import { readFileSync } from 'node:fs';
import { createInterface } from 'node:readline';
import Ajv from 'ajv/dist/2020.js';

const document = JSON.parse(readFileSync(process.argv[2], 'utf8'));
const ajv = new Ajv({ strict: false, validateFormats: false });
ajv.addSchema(document, 'api');
const routes = Object.entries(document.paths).flatMap(([path, item]) =>
  Object.entries(item).map(([method, operation]) => ({
    method: method.toUpperCase(),
    path,
    form: new RegExp(`^${path.replace(/[.]/g, '\\.').replace(/\{[^}]+\}/g, '[^/]+')}$`),
    operation,
  })),
);
const checks = new Map();

for await (const line of createInterface({ input: process.stdin })) {
  const { method, path, status, body } = JSON.parse(line);
  // What is written out stands before what may be anything.
  const [route] = routes.filter((one) => one.method === method && one.form.test(path)).sort((one, other) => one.path.split('{').length - other.path.split('{').length);
  if (!route) continue;
  const key = `${route.path} ${method} ${status}`;
  if (!checks.has(key)) {
    const [type, content] = Object.entries(route.operation.responses[status]?.content ?? {})[0] ?? [];
    const at = ['paths', route.path, method.toLowerCase(), 'responses', String(status), 'content', type, 'schema'];
    const pointer = at.map((step) => encodeURIComponent(String(step).replaceAll('~', '~0').replaceAll('/', '~1'))).join('/');
    checks.set(key, route.operation.responses[status] ? (content?.schema ? ajv.compile({ $ref: `api#/${pointer}` }) : () => true) : null);
  }
  const check = checks.get(key);
  if (check === null) console.log(`${key}: this status is not in the document`);
  else if (!check(body)) console.log(`${key}: ${ajv.errorsText(check.errors)} in ${JSON.stringify(body).slice(0, 300)}`);
}
