/** Signs and numbers that stand before the lines of a list in a mail or a document. */
const BULLET = /^\s*(?:>\s?)*\s*(?:[-–—*•·‣◦▪]\s+|[•·‣◦▪]|\(?\d{1,3}[.)]\s+)?/u;

/** An address, a network, a range, or ports with their protocol: values without spaces in them. */
const WITHOUT_SPACES =
  /^(?:\d{1,3}(?:\.\d{1,3}){3}(?:[/-][\d.]+)?|[0-9a-f]*:[0-9a-f:]*(?:[/-][0-9a-f:]+)?|[\w-]+(?:\.[\w*-]+)+|(?:tcp|udp|icmp|ip)(?:\/[\d-]+)?)$/i;

/** What a line ends with, and the next one begins with, where a mail broke an address, a network or a range in two. */
const BROKEN =
  /(?:^|[\s;,])(?:\d{1,3}(?:\.\d{1,3}){1,2}\.|\d{1,3}(?:\.\d{1,3}){3}[/-]|[0-9a-f]*:[0-9a-f:]*[/-])$/i;
const REST = /^(?:\d|[0-9a-f]*:)/i;
const CARRIED_ON = /^(?:\/\d|[-–][\da-f:.]+$)/i;

/** An address at the end of a sentence. */
const STOPPED = /^(\d{1,3}(?:\.\d{1,3}){3})\.$/;

/**
 * A list as somebody wrote or pasted it, as its values: one a line, or with commas or semicolons between; addresses,
 * host names and ports with spaces or "and" between too. Bullets, numbers, marks of quotation and comments after # are
 * left out, and what a mail broke into two lines is put together.
 */
export function valuesOf(text: string): string[] {
  return joined(
    text
      .replace(/[\u200b\u00ad\ufeff]/g, "")
      .replace(/\u00a0/g, " ")
      .split(/\r?\n/),
  )
    .flatMap((line) => line.split(/[;,\t]/))
    .flatMap(separate)
    .map((value) =>
      value
        .replace(/^["'“”„‘’«»]+|["'“”„‘’«»]+$/g, "")
        .trim()
        .replace(STOPPED, "$1"),
    )
    .filter((value) => value !== "");
}

/** Lines without what only marks them, the halves of a broken value as one. */
function joined(lines: string[]): string[] {
  const whole: string[] = [];
  for (const line of lines) {
    const quoted = line
      .replace(/^\s*(?:>\s?)+/, "")
      .replace(/(^|\s)#.*$/, "")
      .trim();
    const last = whole.at(-1) ?? "";
    const said = quoted.replace(BULLET, "");
    if (last && WITHOUT_SPACES.test(last.split(/[\s;,]+/).at(-1) ?? "") && CARRIED_ON.test(quoted))
      whole[whole.length - 1] = last + quoted.replace(/\s/g, "");
    else if (BROKEN.test(last) && REST.test(said)) whole[whole.length - 1] = last + said;
    else whole.push(said);
  }
  return whole;
}

/** Values of a line that has spaces between them; the line where its spaces are part of a name. */
function separate(line: string): string[] {
  const ranges = line.replace(/(?<=[\d:a-f])\s+[-–]\s+(?=[\d:a-f])/gi, "-");
  const words = ranges
    .replace(/\s+(?:and|or|und|y|et)\s+/gi, " ")
    .split(/\s+/)
    .filter((word) => word !== "")
    .map((word) => word.replace(STOPPED, "$1"));
  return words.every((word) => WITHOUT_SPACES.test(word)) ? words : [line];
}
