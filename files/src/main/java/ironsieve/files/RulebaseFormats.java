package ironsieve.files;

import ironsieve.text.FileTextException;
import ironsieve.text.RulebaseFile;
import ironsieve.text.RulebaseReader;
import java.util.List;
import java.util.Locale;

/** Rulebases in any of the formats that can be read, told by what is in them. */
public final class RulebaseFormats {

  /** The formats that a rulebase can be read from: text, JSON, CSV, access lists (RFC 8519). */
  public static final List<String> READABLE = List.of("rules", "json", "csv", "acl");

  /** A spreadsheet of rules with whatever columns, as {@link ForeignCsv} reads it. */
  public static final String SHEET = "sheet";

  private RulebaseFormats() {}

  /** Which format a text most likely is in. */
  public static String guess(String text) {
    String begun = text.stripLeading();
    if (begun.startsWith("{")) {
      return AccessListReader.isOne(text) ? "acl" : "json";
    }
    String firstLine = begun.lines().findFirst().orElse("").toLowerCase(Locale.ROOT);
    if (firstLine.startsWith("number,chapter,id,")) {
      return "csv";
    }
    boolean isRow = firstLine.split("[,;\t|]", -1).length > 2;
    return isRow && !firstLine.startsWith("#") && !firstLine.startsWith("rulebase")
        ? SHEET
        : "rules";
  }

  /**
   * Reads a rulebase. Whether its names stand for anything is not asked.
   *
   * @param name what to call it where the format has no name for it, as CSV and access lists have
   *     not
   * @param format one of {@link #READABLE}
   * @throws FaultException naming line, column and what would be right
   */
  public static RulebaseFile read(String name, String format, String text) {
    try {
      return switch (format) {
        case "rules" -> RulebaseReader.read(text);
        case "json" -> RulebaseJson.file(text);
        case "csv" -> RulebaseFile.of(RuleCsv.read(name, text));
        case "acl" -> RulebaseFile.of(AccessListReader.read(name, text));
        default ->
            throw new FaultException(
                "file", "format", "formats are " + String.join(", ", READABLE));
      };
    } catch (FileTextException e) {
      throw new FaultException("file", "", e.getMessage());
    }
  }
}
