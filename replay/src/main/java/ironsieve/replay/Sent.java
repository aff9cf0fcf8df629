package ironsieve.replay;

import ironsieve.compile.CompiledRulebase;
import ironsieve.files.CompanyFolder;
import ironsieve.files.RulebaseFormat;
import ironsieve.model.Environment;
import ironsieve.text.SourceText;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.Serializable;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.Optional;
import java.util.TreeMap;

/**
 * What every executor needs: the files of the company and the texts of the rulebases. What they
 * mean is worked out where they are used, once in each executor.
 */
final class Sent implements Serializable {

  private static final long serialVersionUID = 1L;

  private final TreeMap<String, byte[]> company;
  private final String rulebaseName;
  private final String rulebase;
  private final String againstName;
  private final String against;
  private final int edition;
  private final String day;
  private final String zone;
  private transient volatile Compiled compiled;

  /**
   * What was compiled.
   *
   * @param against the rulebase to compare with, if there is one
   */
  record Compiled(
      Environment environment, CompiledRulebase rulebase, Optional<CompiledRulebase> against) {}

  private Sent(
      TreeMap<String, byte[]> company,
      String rulebaseName,
      String rulebase,
      String againstName,
      String against,
      int edition,
      String day,
      String zone) {
    this.company = company;
    this.rulebaseName = rulebaseName;
    this.rulebase = rulebase;
    this.againstName = againstName;
    this.against = against;
    this.edition = edition;
    this.day = day;
    this.zone = zone;
  }

  /**
   * Reads what there is to be sent, and sees that it can be compiled.
   *
   * @param against null where there is nothing to compare with
   * @param edition of the catalogue; 0 for the company's own
   * @throws UncheckedIOException if a file cannot be read
   */
  static Sent of(
      Path company, Path rulebase, Path against, int edition, LocalDate day, ZoneId zone) {
    TreeMap<String, byte[]> files = new TreeMap<>();
    environment(path -> opened(company.resolve(path), path, files), edition, day);
    Sent sent =
        new Sent(
            files,
            rulebase.getFileName().toString(),
            text(rulebase),
            against == null ? "" : against.getFileName().toString(),
            against == null ? "" : text(against),
            edition,
            day.toString(),
            zone.getId());
    sent.compiled();
    return sent;
  }

  private static String text(Path file) {
    try {
      return SourceText.read(Files.readAllBytes(file));
    } catch (IOException e) {
      throw new UncheckedIOException(file + " cannot be read", e);
    }
  }

  private static Optional<InputStream> opened(
      Path file, String path, TreeMap<String, byte[]> files) {
    if (!Files.isRegularFile(file)) {
      return Optional.empty();
    }
    try {
      byte[] bytes = Files.readAllBytes(file);
      files.put(path, bytes);
      return Optional.of(new ByteArrayInputStream(bytes));
    } catch (IOException e) {
      throw new UncheckedIOException(file + " cannot be read", e);
    }
  }

  private static Environment environment(
      java.util.function.Function<String, Optional<InputStream>> files,
      int edition,
      LocalDate day) {
    CompanyFolder folder = new CompanyFolder(files::apply);
    Environment read = folder.environment(day);
    return edition == 0 ? read : read.with(folder.catalogue(edition));
  }

  /** Where local times are those of the records. */
  ZoneId zone() {
    return ZoneId.of(zone);
  }

  /** What all of it means; worked out when first asked for. */
  Compiled compiled() {
    Compiled known = compiled;
    if (known == null) {
      synchronized (this) {
        if (compiled == null) {
          Environment environment =
              environment(
                  path -> Optional.ofNullable(company.get(path)).map(ByteArrayInputStream::new),
                  edition,
                  LocalDate.parse(day));
          compiled =
              new Compiled(
                  environment,
                  compiled(rulebaseName, rulebase, environment),
                  against.isEmpty()
                      ? Optional.empty()
                      : Optional.of(compiled(againstName, against, environment)));
        }
        known = compiled;
      }
    }
    return known;
  }

  private static CompiledRulebase compiled(String name, String text, Environment environment) {
    return CompiledRulebase.of(
        RulebaseFormat.ofFile(name, text).read(name, text).rulebase(), environment);
  }
}
