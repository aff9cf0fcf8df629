import { expect, test } from "vitest";
import { got } from "./got";

test("what a client got is told as it saw it", () => {
  expect(got({ end: "answer", status: 200, issuer: "" })).toBe("Answered with 200.");
  expect(got({ end: "answer", status: 451, issuer: "CN=Demo" })).toBe(
    "Answered with 451, under a certificate of CN=Demo.",
  );
  expect(got({ end: "answer", issuer: "" })).toBe("Answered: the connection is open.");
  expect(got({ end: "refusal", issuer: "" })).toBe("Refused at once.");
  expect(got({ end: "cut", issuer: "" })).toBe("Cut before an answer.");
  expect(got({ end: "cut", status: 200, issuer: "" })).toBe("Cut in the middle of an answer with 200.");
  expect(got({ end: "silence", issuer: "CN=Demo" })).toBe("No answer at all.");
});
