package ironsieve.files;

import ironsieve.model.Environment;
import ironsieve.text.FileTextException;
import ironsieve.text.RulebaseFile;
import ironsieve.text.RulebaseReader;
import ironsieve.text.RulebaseWriter;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.stream.Collectors;

/** The formats that a rulebase is read from and written in. Whoever adds one adds it here alone. */
public enum RulebaseFormat {
  /** Access lists after RFC 8519. */
  ACCESS_LIST("acl", ".acl.json") {
    @Override
    boolean isLike(String text) {
      return text.startsWith("{") && AccessListReader.isOne(text);
    }

    @Override
    RulebaseFile parse(String name, String text) {
      return RulebaseFile.of(AccessListReader.read(name, text));
    }

    @Override
    public Written write(RulebaseFile file, Environment environment) {
      AccessList.Written written = AccessList.write(file.rulebase(), environment);
      return new Written(
          written.json(), written.left().stream().map(AccessList.Left::sentence).toList());
    }
  },

  JSON("json", ".json") {
    @Override
    boolean isLike(String text) {
      return text.startsWith("{");
    }

    @Override
    RulebaseFile parse(String name, String text) {
      return RulebaseJson.file(text);
    }

    @Override
    public Written write(RulebaseFile file, Environment environment) {
      return new Written(RulebaseJson.write(file), List.of());
    }
  },

  /** For spreadsheets, with columns of our own. */
  CSV("csv", ".csv") {
    @Override
    boolean isLike(String text) {
      return text.toLowerCase(Locale.ROOT).startsWith("number,chapter,id,");
    }

    @Override
    RulebaseFile parse(String name, String text) {
      return RulebaseFile.of(RuleCsv.read(name, text));
    }

    @Override
    public Written write(RulebaseFile file, Environment environment) {
      return new Written(RuleCsv.write(file.rulebase()), List.of());
    }
  },

  /** The readable text; what is like nothing else is read as this. */
  RULES("rules", ".rules") {
    @Override
    boolean isLike(String text) {
      return true;
    }

    @Override
    RulebaseFile parse(String name, String text) {
      return RulebaseReader.read(text);
    }

    @Override
    public Written write(RulebaseFile file, Environment environment) {
      return new Written(RulebaseWriter.write(file), List.of());
    }
  };

  /** A spreadsheet of rules with whatever columns, as {@link ForeignCsv} reads it. */
  public static final String SHEET = "sheet";

  private final String word;
  private final String ending;

  RulebaseFormat(String word, String ending) {
    this.word = word;
    this.ending = ending;
  }

  /**
   * A rulebase as text.
   *
   * @param left what the format cannot carry, in sentences
   */
  public record Written(String text, List<String> left) {}

  /** Whether a text, without white space before it, most likely is in this format. */
  abstract boolean isLike(String text);

  abstract RulebaseFile parse(String name, String text);

  /** Writes a rulebase, with what its names stand for. */
  public abstract Written write(RulebaseFile file, Environment environment);

  /** The word in the API and on the command line. */
  public String word() {
    return word;
  }

  /**
   * Reads a rulebase. Whether its names stand for anything is not asked.
   *
   * @param name what to call it where the format has no name for it; the ending of a file is left
   *     out
   * @throws FileTextException if text cannot be read, naming line, column and what would be right
   * @throws FaultException if JSON or CSV cannot be read
   */
  public RulebaseFile read(String name, String text) {
    String called =
        Arrays.stream(values())
            .filter(format -> name.endsWith(format.ending))
            .findFirst()
            .map(format -> name.substring(0, name.length() - format.ending.length()))
            .orElse(name);
    return parse(called, text);
  }

  /**
   * Reads a rulebase as {@link #read} does.
   *
   * @throws FaultException if it cannot be read
   */
  public RulebaseFile demand(String name, String text) {
    try {
      return read(name, text);
    } catch (FileTextException e) {
      throw new FaultException("file", "", e.getMessage());
    }
  }

  /** All words, as a sentence has them. */
  public static String words() {
    return Arrays.stream(values()).map(RulebaseFormat::word).collect(Collectors.joining(", "));
  }

  /**
   * The format with a word.
   *
   * @throws FaultException naming the formats there are
   */
  public static RulebaseFormat ofWord(String word) {
    return Arrays.stream(values())
        .filter(format -> format.word.equals(word))
        .findFirst()
        .orElseThrow(() -> new FaultException("file", "format", "formats are " + words()));
  }

  /** The format of a file: by its ending where it is a spreadsheet, else by what is in it. */
  public static RulebaseFormat ofFile(String name, String text) {
    return name.endsWith(CSV.ending) ? CSV : like(text);
  }

  private static RulebaseFormat like(String text) {
    String begun = text.stripLeading();
    return Arrays.stream(values()).filter(format -> format.isLike(begun)).findFirst().orElse(RULES);
  }

  /** The word for what a text most likely is; {@link #SHEET} for rows with other columns. */
  public static String guess(String text) {
    RulebaseFormat format = like(text);
    String firstLine = text.lines().findFirst().orElse("").toLowerCase(Locale.ROOT);
    boolean isRow = firstLine.split("[,;\t|]", -1).length > 2;
    return format == RULES
            && isRow
            && !firstLine.startsWith("#")
            && !firstLine.startsWith("rulebase")
        ? SHEET
        : format.word;
  }
}
