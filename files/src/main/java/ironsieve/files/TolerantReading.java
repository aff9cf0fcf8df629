package ironsieve.files;

import ironsieve.compile.Check;
import ironsieve.compile.Names;
import ironsieve.compile.Problem;
import ironsieve.files.Documents.RuleDoc;
import ironsieve.model.Chapter;
import ironsieve.model.DecryptionRule;
import ironsieve.model.Environment;
import ironsieve.model.NamedSet;
import ironsieve.model.Outcome;
import ironsieve.model.Parts;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.UsageSheet;
import ironsieve.model.Verdict;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;

/**
 * Reads a rulebase of which something cannot be read, so that the rest can be worked with and what
 * is wrong can be repaired: a rule that cannot be read takes no part, and shared parts that cannot
 * be read are left out with the rules that use them. Names that stand for nothing stay.
 */
public final class TolerantReading {

  private final Contents contents;
  private final Environment environment;
  private final Set<Fault> faults = new LinkedHashSet<>();

  private TolerantReading(Contents contents, Environment environment) {
    this.contents = contents;
    this.environment = environment;
  }

  /**
   * A rulebase as far as it can be read.
   *
   * @param rulebase has nothing worse in it than names that stand for nothing
   * @param faults everything that cannot be read, rule by rule
   */
  public record Read(Rulebase rulebase, List<Fault> faults) {}

  /** Reads what can be read; never fails. */
  public static Read of(Contents contents, Environment environment) {
    TolerantReading reading = new TolerantReading(contents, environment);
    Rulebase sound = reading.withoutProblems(reading.rulebase());
    return new Read(sound, List.copyOf(reading.faults));
  }

  private <D, T> List<T> each(Collection<D> docs, Function<D, T> reader) {
    List<T> read = new ArrayList<>();
    for (D doc : docs) {
      try {
        read.add(reader.apply(doc));
      } catch (FaultException e) {
        faults.addAll(e.faults());
      } catch (RuntimeException e) {
        // A member that is missing where none may be; whoever wrote it was no version of this.
        faults.add(new Fault("record " + doc, "", "something that is needed is missing"));
      }
    }
    return read;
  }

  private Rulebase rulebase() {
    Map<String, List<RuleDoc>> ordered = contents.rulesInOrder();
    List<Chapter> chapters =
        each(
            contents.chaptersInOrder(),
            chapter ->
                DocumentReader.chapter(
                    chapter,
                    ordered.getOrDefault(chapter.id(), List.of()).stream()
                        .map(this::rule)
                        .toList()));
    Parts parts =
        new Parts(
            each(contents.setsInOrder(), DocumentReader::set),
            each(contents.sheetsInOrder(), DocumentReader::sheet),
            each(contents.noticesInOrder(), DocumentReader::notice),
            each(contents.lanesInOrder(), DocumentReader::lane),
            each(contents.decryptionInOrder(), DocumentReader::decryption),
            DocumentReader.rates(contents.title().capacity()));
    Verdict defaultVerdict =
        each(List.of(contents.defaultVerdict()), word -> DocumentReader.verdict("rulebase", word))
            .stream()
            .filter(verdict -> !verdict.shows())
            .findFirst()
            .orElse(Verdict.DENY);
    return new Rulebase(contents.name(), chapters, parts, defaultVerdict);
  }

  private Rule rule(RuleDoc doc) {
    return each(List.of(doc), DocumentReader::rule).stream().findFirst().orElseGet(() -> off(doc));
  }

  /** A rule that stands in its place and takes no part. */
  private static Rule off(RuleDoc doc) {
    return new Rule(
        doc.id(),
        doc.name() == null ? "" : doc.name(),
        Rule.State.OFF,
        Rule.Match.any(),
        new Rule.Then(Outcome.of(Verdict.DENY), Rule.Logging.LOGGED, Optional.empty()),
        doc.note() == null ? "" : doc.note());
  }

  /** Takes out what names something there is not, and then what named that, until nothing does. */
  private Rulebase withoutProblems(Rulebase rulebase) {
    Rulebase sound = rulebase;
    while (true) {
      List<Problem> problems = Check.broken(sound, new Names(sound.parts(), environment));
      if (problems.isEmpty()) {
        return sound;
      }
      Set<String> broken = new HashSet<>();
      for (Problem problem : problems) {
        broken.add(problem.place() + " " + problem.id());
        faults.add(fault(problem));
      }
      sound = without(sound, broken);
    }
  }

  /** A problem of a rulebase as a fault of the record it is in. */
  public static Fault fault(Problem problem) {
    return new Fault(
        problem.place() + " " + problem.id(), problem.field(), problem.message(), problem.value());
  }

  private static Rulebase without(Rulebase rulebase, Set<String> broken) {
    List<Chapter> chapters = new ArrayList<>();
    for (Chapter chapter : rulebase.chapters()) {
      List<Rule> rules = new ArrayList<>();
      for (Rule rule : chapter.rules()) {
        boolean fine = !broken.contains("rule " + rule.id());
        rules.add(
            fine
                ? rule
                : new Rule(
                    rule.id(),
                    rule.name(),
                    Rule.State.OFF,
                    Rule.Match.any(),
                    new Rule.Then(
                        rule.then().verdict().shows() ? Verdict.DENY : rule.then().verdict(),
                        rule.then().logging()),
                    rule.metadata()));
      }
      chapters.add(chapter.with(rules));
    }
    Parts old = rulebase.parts();
    List<NamedSet> sets =
        old.sets().stream().filter(set -> !broken.contains("set " + set.name())).toList();
    List<UsageSheet> sheets =
        old.sheets().stream().filter(sheet -> !broken.contains("sheet " + sheet.name())).toList();
    List<DecryptionRule> decryption =
        old.decryption().stream()
            .filter(line -> !broken.contains("decryption rule " + line.id()))
            .toList();
    Parts parts = new Parts(sets, sheets, old.notices(), old.lanes(), decryption, old.capacity());
    return new Rulebase(rulebase.name(), chapters, parts, rulebase.defaultVerdict());
  }
}
