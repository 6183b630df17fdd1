// Writes src/api/promotion.d.ts: the types of a promotion's document from its JSON Schema, and the names of all its members.
import { readFileSync, writeFileSync } from 'node:fs';
import openapiTS, { astToString } from 'openapi-typescript';

const schema = JSON.parse(readFileSync(new URL('src/api/promotion.schema.json', import.meta.url), 'utf8'));
const names = new Set();

// The forms without what is only asked of members together, which types need not say; what is decided between is one of several; references
// as OpenAPI has them.
function plain(form) {
  if (Array.isArray(form)) return form.map(plain);
  if (form === null || typeof form !== 'object') return form;
  if (form.properties?.kind?.enum) return { oneOf: form.allOf.map((one) => plain(one.then)) };
  if (form.if && !form.properties)
    return { ...(form.description && { description: form.description }), oneOf: [plain(form.then), plain(form.else)] };
  if (form.patternProperties) return { type: 'object', additionalProperties: Object.values(form.patternProperties)[0] };
  const kept = Object.entries(form).filter(
    ([name]) =>
      !(form.properties && (name === 'allOf' || name === 'dependentRequired' || name === 'not' || name.endsWith('Properties'))) ||
      name === 'additionalProperties',
  );
  return Object.fromEntries(
    kept.map(([name, value]) => {
      if (name === '$ref') return [name, value.replace('#/$defs/', '#/components/schemas/')];
      if (name !== 'properties') return [name, plain(value)];
      for (const member of Object.keys(value)) names.add(member);
      return [name, Object.fromEntries(Object.entries(value).map(([member, of]) => [member, plain(of)]))];
    }),
  );
}

const types = await openapiTS({
  openapi: '3.1.0',
  info: { title: schema.title, version: '1' },
  paths: {},
  components: { schemas: plain(schema.$defs) },
});
const union = [...names]
  .sort()
  .map((name) => `  | '${name}'`)
  .join('\n');
writeFileSync(
  new URL('src/api/promotion.d.ts', import.meta.url),
  `// Made by "make api" from promotion.schema.json.\n${astToString(types)}\n/** The name of any member of a promotion's document. */\nexport type MemberName =\n${union};\n`,
);
