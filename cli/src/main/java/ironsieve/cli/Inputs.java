package ironsieve.cli;

import ironsieve.compile.CompiledRulebase;
import ironsieve.files.CompanyFolder;
import ironsieve.files.Fault;
import ironsieve.files.FaultException;
import ironsieve.files.RulebaseFormat;
import ironsieve.files.TapeCsv;
import ironsieve.model.Environment;
import ironsieve.model.Rulebase;
import ironsieve.model.Tape;
import ironsieve.text.FileTextException;
import ironsieve.text.ProbeText;
import ironsieve.text.RulebaseFile;
import ironsieve.text.SourceText;
import ironsieve.traffic.signature.SignatureBook;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.time.format.DateTimeParseException;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Collectors;
import picocli.CommandLine.ITypeConverter;
import picocli.CommandLine.Option;
import picocli.CommandLine.TypeConversionException;

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
      defaultValue = "${sys:iron-sieve.company:-demo}",
      description =
          "the folder with company.json, directory, catalogue and atlas; ${DEFAULT-VALUE}")
  private Path company;

  @Option(
      names = "--edition",
      paramLabel = "N",
      description = "the catalogue edition to read against; the company's own")
  private Integer edition;

  @Option(
      names = "--day",
      paramLabel = "DATE",
      description = "the day it is, such as 2026-11-23; today",
      converter = Day.class)
  private LocalDate day;

  /** A day as an option has it. */
  static final class Day implements ITypeConverter<LocalDate> {
    @Override
    public LocalDate convert(String text) {
      try {
        return LocalDate.parse(text);
      } catch (DateTimeParseException e) {
        throw new TypeConversionException(
            "\"" + text + "\" is no day there is; one reads 2026-11-23");
      }
    }
  }

  /** The word of a format as an option has it. */
  static final class Format implements ITypeConverter<RulebaseFormat> {
    @Override
    public RulebaseFormat convert(String text) {
      try {
        return RulebaseFormat.ofWord(text.toLowerCase(Locale.ROOT));
      } catch (FaultException e) {
        throw new TypeConversionException("\"" + text + "\": " + e.getMessage());
      }
    }
  }

  @Option(
      names = "--tape",
      paramLabel = "CSV",
      description = "recorded traffic to run through the rulebase; may stand several times")
  private List<Path> tapes = List.of();

  @Option(names = "--json", description = "print JSON")
  private boolean json;

  boolean json() {
    return json;
  }

  private CompanyFolder folder() {
    return new CompanyFolder(path -> opened(company.resolve(path)));
  }

  /** The signatures of the company's edition and of its own applications. */
  SignatureBook signatures() {
    CompanyFolder folder = folder();
    try {
      int number = edition == null ? folder.company().edition() : edition;
      return SignatureBook.of(folder, number);
    } catch (FaultException e) {
      throw new UnreadableException(company + "/" + e.faults().get(0).sentence());
    }
  }

  Environment environment() {
    CompanyFolder folder = folder();
    try {
      Environment read = folder.environment(day == null ? LocalDate.now() : day);
      return edition == null ? read : read.with(folder.catalogue(edition));
    } catch (FaultException e) {
      String hint =
          Files.isRegularFile(company.resolve("company.json"))
              ? ""
              : "; name the company's folder with --company";
      throw new UnreadableException(company + "/" + e.faults().get(0).sentence() + hint);
    }
  }

  CompiledRulebase compiled(Path file) {
    return CompiledRulebase.of(rulebase(file), environment());
  }

  /** The tapes that were named, read in some surroundings. */
  List<Tape> tapes(Environment environment) {
    ProbeText probes = new ProbeText(environment);
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

  /** A rulebase without what is only said in its file. */
  static Rulebase rulebase(Path file) {
    return file(file).rulebase();
  }

  /** A rulebase in any format. */
  static RulebaseFile file(Path file) {
    String text = text(file);
    try {
      String name = file.getFileName().toString();
      return RulebaseFormat.ofFile(name, text).read(name, text);
    } catch (FileTextException e) {
      throw new UnreadableException(file + ": " + e.getMessage());
    } catch (FaultException e) {
      throw new UnreadableException(
          file
              + ": "
              + e.faults().stream().map(Fault::sentence).collect(Collectors.joining("\n  ")));
    }
  }

  static String text(Path file) {
    try {
      return SourceText.read(Files.readAllBytes(file));
    } catch (FileTextException e) {
      throw new UnreadableException(file + ": " + e.getMessage());
    } catch (IOException e) {
      throw new UnreadableException(file + " cannot be read; is there such a file?");
    }
  }
}
