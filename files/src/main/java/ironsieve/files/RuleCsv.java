package ironsieve.files;

import ironsieve.files.Documents.FieldDoc;
import ironsieve.files.Documents.MetadataDoc;
import ironsieve.files.Documents.RuleDoc;
import ironsieve.model.Chapter;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.Verdict;
import ironsieve.text.FileTextException;
import ironsieve.text.OutcomeText;
import ironsieve.text.RulebaseReader;
import ironsieve.text.RulebaseWriter;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;

/**
 * The rules of a rulebase as CSV after RFC 4180, one line a rule, for spreadsheets. What rules
 * share (named sets, sheets, notices, lanes) and the default verdict are no rules and stay outside.
 */
public final class RuleCsv {

  private static final String NOT = "not: ";

  /** Lines one below the other that name the same chapter. */
  private record Run(String title, List<Rule> rules) {}

  private RuleCsv() {}

  /** The rules from the top, with their number and chapter; lists joined by "; ". */
  public static String write(Rulebase rulebase) {
    StringBuilder out = new StringBuilder();
    try (CSVPrinter printer = new CSVPrinter(out, CSVFormat.RFC4180)) {
      printer.printRecord(header());
      int number = 0;
      for (Chapter chapter : rulebase.chapters()) {
        for (Rule rule : chapter.rules()) {
          printer.printRecord(
              row(++number, chapter, rule).stream()
                  .map(cell -> CsvCells.format(String.valueOf(cell)))
                  .toList());
        }
      }
    } catch (IOException e) {
      throw new UncheckedIOException("writing to memory", e);
    }
    return out.toString();
  }

  private static List<String> header() {
    List<String> header = new ArrayList<>(List.of("number", "chapter", "id", "name", "state"));
    for (FieldName name : FieldName.values()) {
      header.add(name.key().replace('.', ' '));
    }
    header.addAll(
        List.of(
            "usual ports", "then", "sheet", "logging", "note", "owner", "changes", "review by"));
    return header;
  }

  private static List<Object> row(int number, Chapter chapter, Rule rule) {
    List<Object> row = new ArrayList<>();
    row.addAll(
        List.of(number, chapter.title(), rule.id(), rule.name(), rule.isOn() ? "on" : "off"));
    for (FieldName name : FieldName.values()) {
      row.add(cell(rule.match().field(name)));
    }
    row.add(rule.match().ports() == Rule.Ports.USUAL ? "yes" : "");
    row.add(OutcomeText.print(rule.then().outcome()));
    row.add(rule.then().sheet().orElse(""));
    row.add(rule.then().logging() == Rule.Logging.LOGGED ? "logged" : "not logged");
    row.add(rule.note());
    row.add(rule.metadata().owner());
    row.add(rule.metadata().changes());
    row.add(rule.metadata().reviewBy().map(LocalDate::toString).orElse(""));
    return row;
  }

  private static String cell(Optional<Field> field) {
    return field
        .map(f -> (f.sense() == Field.Sense.IS_NOT ? NOT : "") + RulebaseWriter.items(f.values()))
        .orElse("");
  }

  /**
   * Reads rules as {@link #write} writes them, in the order of their lines; a chapter begins
   * wherever the title is another one than in the line before, so that no rule changes its place.
   * Columns may stand in any order and all but {@code id} and {@code then} may be missing; what is
   * no column is refused, so that nothing is lost.
   *
   * @param name of the rulebase; its default verdict is deny
   * @throws FaultException naming line, column and what would be right
   */
  public static Rulebase read(String name, String text) {
    List<Run> runs = new ArrayList<>();
    Set<String> ids = new HashSet<>();
    CsvCells.rows(
        "rules",
        text,
        header(),
        row -> {
          Rule rule = rule(row);
          if (!ids.add(rule.id())) {
            throw row.fault("id", "there already is a rule " + rule.id());
          }
          String title = row.optional("chapter").orElse("Rules");
          if (runs.isEmpty() || !runs.get(runs.size() - 1).title().equals(title)) {
            runs.add(new Run(title, new ArrayList<>()));
          }
          return runs.get(runs.size() - 1).rules().add(rule);
        });
    List<Chapter> chapters = new ArrayList<>();
    for (Run run : runs) {
      chapters.add(new Chapter("c" + (chapters.size() + 1), run.title(), "", run.rules()));
    }
    return new Rulebase(name, chapters, List.of(), Verdict.DENY);
  }

  private static Rule rule(CsvCells.Row row) {
    String id = row.get("id");
    if (!id.matches("[^\\s\":#;]{1,100}")) {
      throw row.fault("id", "an id is letters without spaces, not \"" + id + "\"");
    }
    Map<String, FieldDoc> fields = new HashMap<>();
    for (FieldName name : FieldName.values()) {
      String column = name.key().replace('.', ' ');
      row.optional(column)
          .filter(cell -> !cell.isBlank())
          .ifPresent(cell -> fields.put(name.key(), field(row, column, cell)));
    }
    RuleDoc doc =
        new RuleDoc(
            id,
            "",
            null,
            row.optional("name").orElse(""),
            given(row, "state"),
            fields,
            given(row, "usual ports") == null
                ? "any"
                : word(row, "usual ports", Map.of("yes", "usual", "no", "any")),
            row.get("then"),
            given(row, "sheet"),
            given(row, "logging"),
            row.optional("note").orElse(""),
            new MetadataDoc(given(row, "owner"), given(row, "changes"), given(row, "review by")));
    return DocumentReader.rule(doc);
  }

  private static String given(CsvCells.Row row, String column) {
    return row.optional(column).filter(cell -> !cell.isEmpty()).orElse(null);
  }

  private static String word(CsvCells.Row row, String column, Map<String, String> words) {
    String word = words.get(row.get(column));
    if (word == null) {
      throw row.fault(column, "expected one of " + words.keySet() + ", or nothing");
    }
    return word;
  }

  private static FieldDoc field(CsvCells.Row row, String column, String cell) {
    boolean not = cell.startsWith(NOT);
    try {
      List<String> values = RulebaseReader.items(not ? cell.substring(NOT.length()) : cell);
      return new FieldDoc(not ? "is not" : "is", values);
    } catch (FileTextException e) {
      throw row.fault(column, e.getMessage());
    }
  }
}
