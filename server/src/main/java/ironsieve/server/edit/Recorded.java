package ironsieve.server.edit;

import ironsieve.files.FaultException;
import ironsieve.files.Renaming;
import ironsieve.files.TapeCsv;
import ironsieve.model.Environment;
import ironsieve.model.Tape;
import ironsieve.progress.Progress;
import ironsieve.server.store.TapeStore;
import ironsieve.text.ProbeText;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/**
 * The traffic recorded where a rulebase is in force. Read when first asked for: a tape of a hundred
 * thousand lines takes seconds, for which whoever only wants to know about rules does not wait.
 */
public final class Recorded {

  private final List<TapeStore.Kept> kept;
  private final Environment environment;
  private Optional<Handed> handed;
  private Read read;

  /**
   * Tapes as they were read.
   *
   * @param unread the names of those that cannot be read any more, with why
   */
  private record Read(List<Tape> tapes, Map<String, String> unread) {}

  /** A tape that was read to see whether it can be, so that nobody reads it again. */
  record Handed(String csv, Environment environment, Tape tape) {

    static Handed read(String name, String csv, Environment environment, Progress progress) {
      ProbeText probes = new ProbeText(environment);
      return new Handed(csv, environment, TapeCsv.read(name, csv, probes, progress));
    }

    private boolean is(TapeStore.Kept kept, Environment in) {
      return environment == in && tape.name().equals(kept.name()) && csv.equals(kept.csv());
    }
  }

  Recorded(List<TapeStore.Kept> kept, Environment environment, Optional<Handed> handed) {
    this.kept = List.copyOf(kept);
    this.environment = environment;
    this.handed = handed;
  }

  /** The tapes that can be read. */
  public List<Tape> tapes() {
    return read().tapes();
  }

  /** The names of the tapes that cannot be read any more, with why. */
  public Map<String, String> unread() {
    return read().unread();
  }

  /** The same traffic with other words for zones, people and devices. */
  Recorded in(Renaming words) {
    Recorded other = new Recorded(kept, environment, Optional.empty());
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
                                        new Tape.Line(words.of(line.connection()), line.times()))
                                .toList(),
                            tape.gone()))
                .toList(),
            unread());
    return other;
  }

  private synchronized Read read() {
    if (read == null) {
      ProbeText probes = new ProbeText(environment);
      List<Tape> readable = new ArrayList<>();
      Map<String, String> unread = new TreeMap<>();
      for (TapeStore.Kept tape : kept) {
        try {
          boolean isRead = handed.map(one -> one.is(tape, environment)).orElse(false);
          readable.add(
              isRead ? handed.get().tape() : TapeCsv.kept(tape.name(), tape.csv(), probes));
        } catch (FaultException e) {
          // A version of this that wrote it otherwise; the tape is kept, and its owner told.
          unread.put(tape.name(), e.faults().get(0).sentence());
        }
      }
      read = new Read(readable, unread);
      handed = Optional.empty();
    }
    return read;
  }
}
