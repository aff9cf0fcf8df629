package ironsieve.traffic.identify;

import ironsieve.traffic.protocol.ConnectionFacts;
import ironsieve.traffic.signature.SignatureMatcher;
import ironsieve.traffic.signature.SignatureMatcher.Match;
import ironsieve.traffic.signature.Unit;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Says what connections are by what they have shown. For one thread. */
public final class Identifier {

  private final SignatureMatcher.Run run;

  /** With these signatures. */
  public Identifier(SignatureMatcher matcher) {
    run = matcher.run();
  }

  private record Key(Optional<String> application, Optional<String> feature) {}

  /**
   * What a connection was used for.
   *
   * @param each once, in the order it was seen; never empty
   * @param ofUnits for each unit the first thing it is
   */
  public record Uses(List<Seen.Use> each, List<Seen.Use> ofUnits) {}

  /** What a connection was used for. */
  public Uses uses(ConnectionFacts shown) {
    List<List<Match>> matches = run.identify(shown);
    List<Seen.Use> ofUnits = new ArrayList<>(matches.size());
    Map<Key, Seen.Use> uses = new LinkedHashMap<>();
    for (int i = 0; i < matches.size(); i++) {
      long times = shown.requests().isEmpty() ? 1 : shown.requests().get(i).times();
      List<Match> found = matches.get(i);
      if (found.isEmpty()) {
        add(uses, shown, Optional.empty(), times);
      }
      found.forEach(match -> add(uses, shown, Optional.of(match), times));
      ofUnits.add(use(shown, found.stream().findFirst(), times));
    }
    return new Uses(new ArrayList<>(uses.values()), ofUnits);
  }

  private static void add(
      Map<Key, Seen.Use> uses, ConnectionFacts shown, Optional<Match> match, long times) {
    Key key = new Key(match.map(Match::application), match.flatMap(Match::feature));
    uses.merge(
        key,
        use(shown, match, times),
        (known, more) -> new Seen.Use(known.match(), known.carrier(), known.times() + times));
  }

  private static Seen.Use use(ConnectionFacts shown, Optional<Match> match, long times) {
    return new Seen.Use(match, carrier(shown, match.map(Match::application)), times);
  }

  /** What one unit is: the first thing it is recognised as. */
  public Seen.Use use(Unit unit) {
    return use(unit.shown(), run.one(unit).stream().findFirst(), 1);
  }

  /** Every application that fits a unit of it, most specific first. */
  public List<Match> all(Unit unit) {
    return run.all(unit);
  }

  private static Optional<String> carrier(ConnectionFacts shown, Optional<String> application) {
    return shown.layers().stream()
        .findFirst()
        .filter(layer -> !application.equals(Optional.of(layer)));
  }
}
