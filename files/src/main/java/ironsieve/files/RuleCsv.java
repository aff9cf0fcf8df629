package ironsieve.files;

import ironsieve.model.Chapter;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.text.OutcomeText;
import ironsieve.text.ValueText;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;

/** The rules of a rulebase as CSV after RFC 4180, one line a rule, for spreadsheets. */
public final class RuleCsv {

  private RuleCsv() {}

  /** The rules from the top, with their number and chapter; lists joined by "; ". */
  public static String write(Rulebase rulebase) {
    List<String> header = new ArrayList<>(List.of("number", "chapter", "id", "name", "state"));
    for (FieldName name : FieldName.values()) {
      header.add(name.key().replace('.', ' '));
    }
    header.addAll(
        List.of(
            "usual ports", "then", "sheet", "logging", "note", "owner", "changes", "review by"));
    StringBuilder out = new StringBuilder();
    try (CSVPrinter printer = new CSVPrinter(out, CSVFormat.RFC4180)) {
      printer.printRecord(header);
      int number = 0;
      for (Chapter chapter : rulebase.chapters()) {
        for (Rule rule : chapter.rules()) {
          printer.printRecord(row(++number, chapter, rule));
        }
      }
    } catch (IOException e) {
      throw new UncheckedIOException("writing to memory", e);
    }
    return out.toString();
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
    row.add(rule.then().logging() == Rule.Logging.LOG ? "log" : "quiet");
    row.add(rule.note());
    row.add(rule.keeping().owner());
    row.add(rule.keeping().changes());
    row.add(rule.keeping().reviewBy().map(LocalDate::toString).orElse(""));
    return row;
  }

  private static String cell(Optional<Field> field) {
    return field
        .map(
            f ->
                (f.sense() == Field.Sense.IS_NOT ? "not: " : "")
                    + f.values().stream().map(ValueText::print).collect(Collectors.joining("; ")))
        .orElse("");
  }
}
