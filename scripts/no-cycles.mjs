// Fails when modules of the front end import each other in a circle.
import { readdirSync, readFileSync, statSync } from "node:fs";
import { dirname, join, relative, resolve } from "node:path";

const root = resolve(process.argv[2] ?? "web/src");
const files = (dir) =>
  readdirSync(dir).flatMap((name) => {
    const path = join(dir, name);
    return statSync(path).isDirectory() ? files(path) : /\.tsx?$/.test(name) ? [path] : [];
  });
const all = new Set(files(root));
// Types vanish from what runs, but a circle of types is a circle for a reader.
const imports = (file) =>
  [...readFileSync(file, "utf8").matchAll(/from "(\.[^"]+)"/g)]
    .map(([, to]) => resolve(dirname(file), to))
    .map((to) => [to, `${to}.ts`, `${to}.tsx`].find((path) => all.has(path)))
    .filter(Boolean);

const done = new Set();
const circles = [];
const walk = (file, path) => {
  if (path.includes(file)) {
    circles.push([...path.slice(path.indexOf(file)), file].map((f) => relative(root, f)).join(" -> "));
    return;
  }
  if (done.has(file)) return;
  for (const to of imports(file)) walk(to, [...path, file]);
  done.add(file);
};
for (const file of all) walk(file, []);
if (all.size === 0) circles.push(`no module below ${root}`);
for (const circle of circles) console.log(circle);
process.exit(circles.length ? 1 : 0);
