package ironsieve.server.releases;

import ironsieve.decide.PromiseCheck;
import ironsieve.review.Finding;
import ironsieve.server.edit.Accepted;
import ironsieve.server.edit.RulebaseSnapshot;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** What stands against a release of a rulebase: promises that it breaks, and errors. */
public final class Stops {

  private Stops() {}

  /**
   * Something that stands against a release.
   *
   * @param id the same for as long as it is the same promise, or the same kind of error of a rule
   * @param words what it is, in a sentence
   * @param rule the id of the rule it lies at; empty for a promise
   */
  public record Stop(String id, String words, String rule) {}

  /** All that stands against releasing a rulebase as it is, promises first. */
  public static List<Stop> of(RulebaseSnapshot snapshot) {
    Map<String, Stop> stops = new LinkedHashMap<>();
    snapshot.promises().stream()
        .filter(check -> !check.isKept())
        .map(check -> broken(snapshot, check))
        .forEach(stop -> stops.put(stop.id(), stop));
    snapshot.review().findings().stream()
        .filter(finding -> finding.severity() == Finding.Severity.ERROR)
        .filter(
            finding ->
                Accepted.of(snapshot.contents(), finding.rule(), finding.kind().word()).isEmpty())
        .map(finding -> error(snapshot, finding))
        .forEach(stop -> stops.putIfAbsent(stop.id(), stop));
    return List.copyOf(stops.values());
  }

  private static Stop broken(RulebaseSnapshot snapshot, PromiseCheck check) {
    String id = check.promise().id();
    String name = snapshot.contents().promises().get(id).name();
    return new Stop("promise:" + id, "the promise \"" + name + "\" is broken", "");
  }

  private static Stop error(RulebaseSnapshot snapshot, Finding finding) {
    String name = snapshot.contents().rules().get(finding.rule()).name();
    return new Stop(
        "error:" + finding.rule() + ":" + finding.kind().word(),
        "rule "
            + snapshot.review().number(finding.rule())
            + (name == null || name.isBlank() ? "" : " \"" + name + "\"")
            + ": "
            + finding.kind().word(),
        finding.rule());
  }
}
