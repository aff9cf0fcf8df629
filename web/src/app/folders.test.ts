// @vitest-environment node
/// <reference types="vite/client" />
import { expect, it } from "vitest";

/** Each folder uses those before it, and knows no later one. */
const ORDER = [
  [
    "api",
    "base",
    "rules",
    "session",
    "impact",
    "filter",
    "depthMap",
    "editor",
    "stack",
    "probe",
    "lens",
    "rulebase",
  ],
  [
    "workspace",
    "shared",
    "reach",
    "directory",
    "catalogue",
    "gateways",
    "history",
    "jobs",
    "lists",
    "promises",
    "releases",
    "sets",
  ],
  ["sources", "traffic", "zones", "app"],
].flat();

/** What stands in each file, by its path, such as `/src/app/AppShell.tsx`. */
const texts: Record<string, string> = import.meta.glob("/src/*/**/*.{ts,tsx}", {
  query: "?raw",
  import: "default",
  eager: true,
});

const files = Object.keys(texts).filter((file) => !file.includes(".test."));

const folderOf = (path: string) => path.split("/")[2];

it("gives every folder its place in the order", () => {
  expect([...new Set(files.map(folderOf))].sort()).toEqual([...ORDER].sort());
});

it("has no folder that knows a later one", () => {
  const upwards = files.flatMap((file) =>
    [...texts[file].matchAll(/(?:from |import\()"(\.[^"]+)"/g)]
      .map(([, path]) => new URL(path, `file://${file}`).pathname)
      .filter((used) => ORDER.indexOf(folderOf(used)) > ORDER.indexOf(folderOf(file)))
      .map((used) => `${file} uses ${used}`),
  );
  expect(upwards).toEqual([]);
});
