package ironsieve.files;

import ironsieve.text.FileTextException;
import ironsieve.text.RulebaseFile;
import ironsieve.text.RulebaseReader;

/** A rulebase in any of its formats. */
public final class AnyRulebase {

  private AnyRulebase() {}

  /**
   * Reads a file: an access list after RFC 8519 if it is one, JSON if it begins with a brace, CSV
   * if its name ends in {@code .csv}, rulebase text otherwise.
   *
   * @throws FileTextException if text cannot be read
   * @throws FaultException if CSV or JSON cannot be read
   */
  public static RulebaseFile read(String name, String text) {
    if (name.endsWith(".csv")) {
      return RulebaseFile.of(RuleCsv.read(name.replaceAll("\\.csv$", ""), text));
    }
    if (text.stripLeading().startsWith("{") && AccessListReader.isOne(text)) {
      return RulebaseFile.of(AccessListReader.read(name.replaceAll("(\\.acl)?\\.json$", ""), text));
    }
    return text.stripLeading().startsWith("{")
        ? RulebaseJson.file(text)
        : RulebaseReader.read(text);
  }
}
