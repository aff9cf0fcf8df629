package ironsieve.cli;

import ironsieve.compile.CompiledRulebase;
import ironsieve.files.CompanyFolder;
import ironsieve.files.FaultException;
import ironsieve.files.RulebaseJson;
import ironsieve.files.TapeCsv;
import ironsieve.model.Rulebase;
import ironsieve.model.Surroundings;
import ironsieve.model.Tape;
import ironsieve.text.FileTextException;
import ironsieve.text.ProbeText;
import ironsieve.text.RulebaseReader;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import picocli.CommandLine.Option;

/** What every command is given: the company's folder and the day. */
final class Inputs {

  /** Thrown for what cannot be read; the message says what, where and what would be right. */
  static final class UnreadableException extends RuntimeException {
    private static final long serialVersionUID = 1L;

    UnreadableException(String message) {
      super(message);
    }
  }

  @Option(
      names = "--company",
      paramLabel = "DIR",
      defaultValue = "demo",
      description =
          "the folder with company.json, directory, catalogue and atlas; ${DEFAULT-VALUE}")
  private Path company;

  @Option(
      names = "--edition",
      paramLabel = "N",
      description = "the catalogue edition to read against; the company's own")
  private Integer edition;

  @Option(names = "--day", paramLabel = "DATE", description = "the day it is; today")
  private LocalDate day;

  @Option(
      names = "--tape",
      paramLabel = "CSV",
      description = "recorded traffic to drop through the rulebase; may stand several times")
  private List<Path> tapes = List.of();

  @Option(names = "--json", description = "print JSON")
  private boolean json;

  boolean json() {
    return json;
  }

  Surroundings surroundings() {
    CompanyFolder folder = new CompanyFolder(path -> opened(company.resolve(path)));
    try {
      Surroundings read = folder.surroundings(day == null ? LocalDate.now() : day);
      return edition == null ? read : read.with(folder.catalogue(edition));
    } catch (java.io.UncheckedIOException e) {
      throw new UnreadableException(
          company
              + ": "
              + e.getCause().getMessage()
              + "; name the company's folder with --company");
    } catch (FaultException e) {
      throw new UnreadableException(company + ": " + e.getMessage());
    }
  }

  CompiledRulebase compiled(Path file) {
    return CompiledRulebase.of(rulebase(file), surroundings());
  }

  /** The tapes that were named, read in some surroundings. */
  List<Tape> tapes(Surroundings surroundings) {
    ProbeText probes = new ProbeText(surroundings);
    try {
      return tapes.stream()
          .map(path -> TapeCsv.read(path.getFileName().toString(), text(path), probes))
          .toList();
    } catch (FaultException e) {
      throw new UnreadableException(e.faults().get(0).sentence());
    }
  }

  private static Optional<InputStream> opened(Path path) {
    try {
      return Files.isRegularFile(path) ? Optional.of(Files.newInputStream(path)) : Optional.empty();
    } catch (IOException e) {
      throw new UnreadableException(path + " cannot be read: " + e.getMessage());
    }
  }

  /** A rulebase in either format: JSON if it begins with a brace, rulebase text otherwise. */
  static Rulebase rulebase(Path file) {
    String text = text(file);
    try {
      return text.stripLeading().startsWith("{")
          ? RulebaseJson.read(text)
          : RulebaseReader.read(text).rulebase();
    } catch (FileTextException e) {
      throw new UnreadableException(file + ": " + e.getMessage());
    } catch (FaultException e) {
      throw new UnreadableException(file + ": " + e.getMessage());
    }
  }

  static String text(Path file) {
    try {
      return Files.readString(file);
    } catch (IOException e) {
      throw new UnreadableException(file + " cannot be read; is there such a file?");
    }
  }
}
