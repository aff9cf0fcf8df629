// @vitest-environment node
import { describe, expect, it } from "vitest";
import { valuesOf } from "./valuesOf";

describe("a pasted list", () => {
  const lists: [string, string, string[]][] = [
    [
      "lines, commas and semicolons, without comments",
      "10.0.0.1\n10.0.0.2, 10.0.0.3 # old\n\nshop.example;",
      ["10.0.0.1", "10.0.0.2", "10.0.0.3", "shop.example"],
    ],
    [
      "bullets and numbers of a mail",
      "> - 10.0.0.1\n> - 10.0.0.2\n• 10.0.0.3\n·10.0.0.4\n1. 10.0.0.5\n2) shop.example",
      ["10.0.0.1", "10.0.0.2", "10.0.0.3", "10.0.0.4", "10.0.0.5", "shop.example"],
    ],
    [
      "spaces and words between addresses",
      "10.0.0.1 10.0.0.0/24  10.1.0.1 - 10.1.0.9 and fd00::/8",
      ["10.0.0.1", "10.0.0.0/24", "10.1.0.1-10.1.0.9", "fd00::/8"],
    ],
    [
      "spaces that belong to names",
      "group Finance and Tax\nhost Booking server",
      ["group Finance and Tax", "host Booking server"],
    ],
    ["ports", "tcp/443 udp/5000-5100\nicmp", ["tcp/443", "udp/5000-5100", "icmp"]],
    [
      "values broken by a mail",
      "10.20.0.0/\n16\n10.1.0.1-\n10.1.0.9\n10.2.0.0\n/24, 10.3.0.\n7",
      ["10.20.0.0/16", "10.1.0.1-10.1.0.9", "10.2.0.0/24", "10.3.0.7"],
    ],
    [
      "quotation marks and spaces that do not show",
      "“10.0.0.1”\n\u200b10.0.0.2\u00a0",
      ["10.0.0.1", "10.0.0.2"],
    ],
    [
      "features and signs within values",
      "Chatterbay/upload\n*.shop.example\nwhere exposure >= serious",
      ["Chatterbay/upload", "*.shop.example", "where exposure >= serious"],
    ],
    [
      "names that end like a broken address",
      "Ramp e.\nDepot\n2.\n10.0.0.1",
      ["Ramp e.", "Depot", "2.", "10.0.0.1"],
    ],
    ["the end of a sentence", "10.0.0.1 and 10.0.0.2.\n10.0.0.3", ["10.0.0.1", "10.0.0.2", "10.0.0.3"]],
    ["a first value that is a number", "1.2.3.4\n2.3.4.5", ["1.2.3.4", "2.3.4.5"]],
  ];
  it.each(lists)("is taken apart: %s", (_, text, values) => {
    expect(valuesOf(text)).toEqual(values);
  });
});
