package ironsieve.server.edit;

import ironsieve.compile.Dimension;
import ironsieve.files.FaultException;
import ironsieve.files.Renaming;
import ironsieve.files.TapeCsv;
import ironsieve.model.Connection.ApplicationUse;
import ironsieve.model.Environment;
import ironsieve.recorded.Conversations;
import ironsieve.recorded.TapeColumns;
import ironsieve.recorded.Traffic;
import ironsieve.server.jobs.Once;
import ironsieve.server.store.Samples;
import ironsieve.server.store.TapeContents;
import ironsieve.server.store.TapeStore;
import ironsieve.text.ProbeText;
import ironsieve.traffic.identify.Identifier;
import ironsieve.traffic.identify.Seen;
import ironsieve.traffic.signature.SignatureMatcher;
import ironsieve.traffic.signature.Unit;
import ironsieve.traffic.tape.TapeMaker;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.IntFunction;
import java.util.function.Supplier;

/**
 * The traffic recorded where a rulebase is in force. Read when first asked for: a tape of a hundred
 * thousand lines takes seconds, for which whoever only wants to know about rules does not wait.
 */
public final class Recorded {

  private final List<TapeStore.Kept> kept;
  private final Environment environment;
  private final Supplier<SignatureMatcher> signatures;
  private final TapeContents contents;
  private final Once<Read> read = new Once<>();
  private final Once<Traffic> traffic = new Once<>();

  /**
   * Tapes as they were read.
   *
   * @param samples what connections of each tape showed, by its name
   * @param unread the names of those that cannot be read any more, with why
   */
  private record Read(
      List<TapeColumns> tapes, Map<String, List<Unit>> samples, Map<String, String> unread) {}

  /**
   * Tapes in these surroundings.
   *
   * @param signatures those in force, by which what connections showed is told anew
   */
  Recorded(
      List<TapeStore.Kept> kept,
      Environment environment,
      Supplier<SignatureMatcher> signatures,
      TapeContents contents) {
    this.kept = List.copyOf(kept);
    this.environment = environment;
    this.signatures = signatures;
    this.contents = contents;
  }

  /** The tapes that can be read. */
  public List<TapeColumns> tapes() {
    return read().tapes();
  }

  /** All lines of all tapes, which remember where they lie in a space. */
  public Traffic traffic() {
    return traffic.get(() -> Traffic.ofColumns(tapes()));
  }

  /** The names of the tapes that cannot be read any more, with why. */
  public Map<String, String> unread() {
    return read().unread();
  }

  /** The same traffic with other words for zones, people and devices. */
  Recorded in(Renaming words) {
    Recorded other = new Recorded(kept, environment, signatures, contents);
    other.read.set(
        new Read(
            tapes().stream()
                .map(tape -> tape.with(words.of(tape.values()), tape.conversations()))
                .toList(),
            read().samples(),
            unread()));
    return other;
  }

  /** What could not be read of the file a tape was made of, or is not known here. */
  public List<String> notes(String tape) {
    return kept.stream()
        .filter(one -> one.name().equals(tape) && one.made() != null)
        .findFirst()
        .map(one -> Samples.notes(one.made()))
        .orElse(List.of());
  }

  /** How many days of a tape are kept; nothing where all of it is. */
  public Optional<Integer> keepDays(String tape) {
    return kept.stream()
        .filter(one -> one.name().equals(tape) && one.keepDays() != null)
        .findFirst()
        .map(TapeStore.Kept::keepDays);
  }

  /** What connections of a tape showed, by the numbers its lines have. */
  public List<Unit> samples(String tape) {
    return read().samples().getOrDefault(tape, List.of());
  }

  private Read read() {
    return read.get(this::readKept);
  }

  private Read readKept() {
    ProbeText probes = new ProbeText(environment);
    List<TapeColumns> readable = new ArrayList<>();
    Map<String, List<Unit>> samples = new HashMap<>();
    Map<String, String> unread = new TreeMap<>();
    for (TapeStore.Kept tape : kept) {
      try {
        List<Unit> shown = Samples.read(tape.samples());
        TapeColumns lines =
            tape.csv() == null
                ? contents.read(tape.name(), new TapeContents.Numbers(tape.content(), tape.words()))
                : TapeColumns.of(TapeCsv.readStored(tape.name(), tape.csv(), probes));
        readable.add(shown.isEmpty() ? lines : nameAgain(lines, shown));
        samples.put(tape.name(), shown);
      } catch (FaultException e) {
        // A version of this that wrote it otherwise; the tape is kept, and its owner told.
        unread.put(tape.name(), e.faults().get(0).sentence());
      }
    }
    return new Read(readable, samples, unread);
  }

  /** The same with the application each line is by the signatures in force now. */
  private TapeColumns nameAgain(TapeColumns tape, List<Unit> samples) {
    Identifier identifier = new Identifier(signatures.get());
    ApplicationUse[] uses = new ApplicationUse[samples.size()];
    for (int i = 0; i < uses.length; i++) {
      Seen.Use use = identifier.use(samples.get(i));
      uses[i] =
          use.application()
              .flatMap(environment.catalogue()::application)
              .map(application -> TapeMaker.use(application, use.feature(), use.carrier()))
              .orElse(ApplicationUse.UNRECOGNISED);
    }
    return using(
        tape, sample -> sample < uses.length ? Optional.of(uses[sample]) : Optional.empty());
  }

  /** The same tape without the applications of lines that are told by what they showed. */
  static TapeColumns untold(TapeColumns tape) {
    return using(tape, sample -> Optional.of(ApplicationUse.UNRECOGNISED));
  }

  /**
   * A tape with other uses.
   *
   * @param bySample the use that a sample shows; nothing where it stays what it is
   */
  private static TapeColumns using(
      TapeColumns tape, IntFunction<Optional<ApplicationUse>> bySample) {
    Conversations all = tape.conversations();
    List<ApplicationUse> uses = new ArrayList<>(tape.values().uses());
    Map<ApplicationUse, Integer> numbers = new HashMap<>();
    for (int i = 0; i < uses.size(); i++) {
      numbers.put(uses.get(i), i);
    }
    int[] column = new int[all.count()];
    for (int c = 0; c < column.length; c++) {
      column[c] = all.part(c, Dimension.USING);
      Optional<ApplicationUse> use =
          all.sample(c) < 0 ? Optional.empty() : bySample.apply(all.sample(c));
      if (use.isPresent()) {
        Integer known = numbers.get(use.get());
        if (known == null) {
          known = uses.size();
          numbers.put(use.get(), known);
          uses.add(use.get());
        }
        column[c] = known;
      }
    }
    return tape.with(tape.values().withUses(uses), all.using(column));
  }
}
