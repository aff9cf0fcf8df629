// @vitest-environment node
import { expect, test } from "vitest";
import { quoted } from "./TryIt";

test("whatever is written stays one word of a shell", () => {
  expect(quoted("http://page.example/")).toBe("http://page.example/");
  expect(quoted("http://page.example/?a=b&c")).toBe("'http://page.example/?a=b&c'");
  expect(quoted("it's; rm -r x")).toBe("'it'\\''s; rm -r x'");
  expect(quoted("")).toBe("''");
});
