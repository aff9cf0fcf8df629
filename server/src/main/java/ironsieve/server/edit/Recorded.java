package ironsieve.server.edit;

import ironsieve.recorded.Traffic;
import ironsieve.files.FaultException;
import ironsieve.files.Renaming;
import ironsieve.files.TapeCsv;
import ironsieve.model.Connection;
import ironsieve.model.Connection.ApplicationUse;
import ironsieve.model.Environment;
import ironsieve.model.Tape;
import ironsieve.server.store.TapeStore;
import ironsieve.server.tapes.Samples;
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
import java.util.function.Supplier;

/**
 * The traffic recorded where a rulebase is in force. Read when first asked for: a tape of a hundred
 * thousand lines takes seconds, for which whoever only wants to know about rules does not wait.
 */
public final class Recorded {

  private final List<TapeStore.Kept> kept;
  private final Environment environment;
  private final Supplier<SignatureMatcher> signatures;
  private Optional<Handed> handed;
  private Read read;
  private Traffic traffic;

  /**
   * Tapes as they were read.
   *
   * @param samples what connections of each tape showed, by its name
   * @param unread the names of those that cannot be read any more, with why
   */
  private record Read(
      List<Tape> tapes, Map<String, List<Unit>> samples, Map<String, String> unread) {}

  /** A tape that was read to see whether it can be, so that nobody reads it again. */
  record Handed(String csv, Environment environment, Tape tape, List<Unit> samples) {

    private boolean is(TapeStore.Kept kept, Environment in) {
      return environment == in && tape.name().equals(kept.name()) && csv.equals(kept.csv());
    }
  }

  /**
   * Tapes in these surroundings.
   *
   * @param signatures those in force, by which what connections showed is told anew
   */
  Recorded(
      List<TapeStore.Kept> kept,
      Environment environment,
      Supplier<SignatureMatcher> signatures,
      Optional<Handed> handed) {
    this.kept = List.copyOf(kept);
    this.environment = environment;
    this.signatures = signatures;
    this.handed = handed;
  }

  /** The tapes that can be read. */
  public List<Tape> tapes() {
    return read().tapes();
  }

  /** All lines of all tapes, which remember where they lie in a space. */
  public synchronized Traffic traffic() {
    if (traffic == null) {
      traffic = Traffic.of(tapes());
    }
    return traffic;
  }

  /** The names of the tapes that cannot be read any more, with why. */
  public Map<String, String> unread() {
    return read().unread();
  }

  /** The same traffic with other words for zones, people and devices. */
  Recorded in(Renaming words) {
    Recorded other = new Recorded(kept, environment, signatures, Optional.empty());
    other.read =
        new Read(
            tapes().stream()
                .map(
                    tape ->
                        new Tape(
                            tape.name(),
                            tape.lines().stream()
                                .map(
                                    line ->
                                        new Tape.Line(
                                            words.of(line.connection()),
                                            line.times(),
                                            line.volume(),
                                            line.unsaid(),
                                            line.sample()))
                                .toList(),
                            tape.gone()))
                .toList(),
            read().samples(),
            unread());
    return other;
  }

  /** What could not be read of the file a tape was made of, or is not known here. */
  public List<String> told(String tape) {
    return kept.stream()
        .filter(one -> one.name().equals(tape) && one.made() != null)
        .findFirst()
        .map(one -> Samples.told(one.made()))
        .orElse(List.of());
  }

  /** What connections of a tape showed, by the numbers its lines have. */
  public List<Unit> samples(String tape) {
    return read().samples().getOrDefault(tape, List.of());
  }

  private synchronized Read read() {
    if (read == null) {
      ProbeText probes = new ProbeText(environment);
      List<Tape> readable = new ArrayList<>();
      Map<String, List<Unit>> samples = new HashMap<>();
      Map<String, String> unread = new TreeMap<>();
      for (TapeStore.Kept tape : kept) {
        try {
          Optional<Handed> one = handed.filter(given -> given.is(tape, environment));
          List<Unit> shown = one.map(Handed::samples).orElseGet(() -> Samples.read(tape.samples()));
          Tape lines =
              one.map(Handed::tape).orElseGet(() -> TapeCsv.kept(tape.name(), tape.csv(), probes));
          readable.add(shown.isEmpty() ? lines : told(lines, shown));
          samples.put(tape.name(), shown);
        } catch (FaultException e) {
          // A version of this that wrote it otherwise; the tape is kept, and its owner told.
          unread.put(tape.name(), e.faults().get(0).sentence());
        }
      }
      read = new Read(readable, samples, unread);
      handed = Optional.empty();
    }
    return read;
  }

  /** The same with the application each line is by the signatures in force now. */
  private Tape told(Tape tape, List<Unit> samples) {
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
    List<Tape.Line> lines =
        tape.lines().stream()
            .map(
                line ->
                    line.sample() >= 0 && line.sample() < uses.length
                        ? using(line, uses[line.sample()])
                        : line)
            .toList();
    return new Tape(tape.name(), lines, tape.gone());
  }

  private static Tape.Line using(Tape.Line line, ApplicationUse use) {
    Connection connection = line.connection();
    return connection.using().equals(use)
        ? line
        : new Tape.Line(
            new Connection(
                connection.at(), connection.from(), connection.to(), connection.service(), use),
            line.times(),
            line.volume(),
            line.unsaid(),
            line.sample());
  }

  /** The same tape without the applications of lines that are told by what they showed. */
  static Tape untold(Tape tape) {
    return new Tape(
        tape.name(),
        tape.lines().stream()
            .map(line -> line.sample() < 0 ? line : using(line, ApplicationUse.UNRECOGNISED))
            .toList(),
        tape.gone());
  }
}
