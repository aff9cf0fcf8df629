package ironsieve.server.tapes;

import ironsieve.server.edit.Editor;
import ironsieve.server.edit.TapeEditor;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;

/** The tapes that gateways' logs become. Safe for any number of threads. */
@ApplicationScoped
public class GatewayTapes {

  @Inject Editor editor;
  @Inject TapeEditor tapeEditor;
  @Inject Retention retention;

  private final Map<String, LiveTape> growing = new ConcurrentHashMap<>();

  /**
   * Adds lines of syslog to a tape of a rulebase, for good once this returns.
   *
   * @return how many could not be read
   */
  public long add(String rulebase, String tape, List<String> lines) {
    String id = rulebase + " " + tape;
    // One after the other, for each goes on where the one before ended.
    LiveTape live =
        growing.compute(
            id, (same, known) -> known != null && known.isNewest() ? known : begin(rulebase, tape));
    synchronized (live) {
      long before = live.refused();
      lines.forEach(live::line);
      try {
        live.saveNow();
      } catch (RuntimeException e) {
        // Who sent them sends them again.
        growing.remove(id, live);
        throw e;
      }
      return live.refused() - before;
    }
  }

  /** Lets go of a tape that nothing more is added to. */
  public void end(String rulebase, String tape) {
    growing.remove(rulebase + " " + tape);
  }

  private LiveTape begin(String rulebase, String tape) {
    return new LiveTape(
        rulebase,
        tape,
        () -> editor.snapshot(rulebase),
        tapeEditor,
        of -> retention.firstMinute(rulebase, of));
  }
}
