package ironsieve.decide;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.Rulebases;
import ironsieve.SmallWorld;
import ironsieve.Twin;
import ironsieve.WebWorld;
import ironsieve.compile.CompiledRulebase;
import ironsieve.compile.Knowledge;
import ironsieve.decide.Fall.Stage.Status;
import ironsieve.model.Connection;
import ironsieve.model.Outcome;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.Verdict;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;

/** Every stage is what one gets by asking each rule about everything a connection may yet be. */
class UnfoldingAgreesTest {

  private static final List<Connection> ALL =
      WebWorld.WORLD.points().stream().map(SmallWorld.Point::connection).toList();

  @Provide
  Arbitrary<Rulebase> rulebases() {
    return Rulebases.random(WebWorld.WORLD, 6);
  }

  @Property(tries = 1500)
  void everyStageIsWhatTheRulesSayOfAllThatIsStillPossible(
      @ForAll("rulebases") Rulebase rulebase, @ForAll long seed) {
    Twin twin = new Twin(rulebase, WebWorld.environment());
    Decider decider = new Decider(CompiledRulebase.of(rulebase, WebWorld.environment()));
    Random random = new Random(seed);
    for (int i = 0; i < 3; i++) {
      Connection connection = ALL.get(random.nextInt(ALL.size()));
      Fall fall = decider.fall(connection);
      assertThat(fall.stages())
          .as("%s", connection)
          .usingRecursiveComparison()
          // Which fields a rule waits for is a hint; that it waits is not.
          .ignoringFields("waiting.fields")
          .ignoringCollectionOrderInFields("outcomes")
          .isEqualTo(expected(rulebase, twin, connection));
      Fall alone = Decider.forOne(rulebase, WebWorld.environment(), connection).fall(connection);
      assertThat(alone.caught()).isEqualTo(fall.caught());
      assertThat(alone.stages()).isEqualTo(fall.stages());
      Fall.Stage last = fall.stages().get(fall.stages().size() - 1);
      assertThat(last.status()).isNotEqualTo(Status.PROVISIONAL);
      if (last.status() == Status.DECIDED) {
        assertThat(last.rule()).isEqualTo(fall.caught().rule());
      }
      assertThat(last.outcomes())
          .extracting(Outcome::verdict)
          .containsOnly(fall.caught().outcome().verdict());
    }
  }

  private static List<Fall.Stage> expected(Rulebase rulebase, Twin twin, Connection connection) {
    List<Fall.Stage> stages = new ArrayList<>();
    for (Knowledge knowledge : Knowledge.values()) {
      List<Connection> possible =
          ALL.stream().filter(other -> alike(knowledge, connection, other)).toList();
      boolean last =
          knowledge == (twin.readable(connection) ? Knowledge.READ : Knowledge.IDENTIFIED);
      Fall.Stage stage = stage(rulebase, twin, possible, knowledge, last);
      stages.add(stage);
      if (stage.status() != Status.PROVISIONAL) {
        return stages;
      }
    }
    throw new AssertionError("the last stage decides");
  }

  private static Fall.Stage stage(
      Rulebase rulebase, Twin twin, List<Connection> possible, Knowledge knowledge, boolean last) {
    List<Fall.Wait> waiting = new ArrayList<>();
    Set<Verdict> verdicts = new HashSet<>();
    Optional<String> sure = Optional.empty();
    Set<Outcome> outcomes = new HashSet<>(Set.of(Outcome.of(rulebase.defaultVerdict())));
    for (Rule rule : rulebase.rules()) {
      List<Connection> claimed =
          possible.stream().filter(c -> rule.isOn() && twin.claims(rule, c)).toList();
      Set<Outcome> own = new HashSet<>();
      claimed.forEach(c -> own.add(twin.outcome(rule, c)));
      if (!claimed.isEmpty()) {
        own.forEach(outcome -> verdicts.add(outcome.verdict()));
      }
      if (claimed.size() == possible.size()) {
        sure = Optional.of(rule.id());
        outcomes = own;
        break;
      }
      if (!claimed.isEmpty()) {
        waiting.add(new Fall.Wait(rule.id(), List.of()));
      }
    }
    if (sure.isEmpty()) {
      verdicts.add(rulebase.defaultVerdict());
    }
    boolean decided = last || (waiting.isEmpty() && outcomes.size() == 1);
    boolean stopped = verdicts.size() == 1 && verdicts.stream().noneMatch(Verdict::passes);
    return new Fall.Stage(
        knowledge,
        waiting,
        sure,
        List.copyOf(outcomes),
        decided ? Status.DECIDED : stopped ? Status.STOPPED_EARLY : Status.PROVISIONAL);
  }

  private static boolean alike(Knowledge knowledge, Connection one, Connection other) {
    boolean first =
        one.from().equals(other.from())
            && one.to().place().equals(other.to().place())
            && one.service().equals(other.service());
    return switch (knowledge) {
      case FIRST_PACKET -> first;
      case NAMED -> first && one.to().equals(other.to()) && outside(one).equals(outside(other));
      case IDENTIFIED ->
          first
              && one.to().equals(other.to())
              && one.using().application().equals(other.using().application())
              && one.using().carrier().equals(other.using().carrier());
      case READ -> one.equals(other);
    };
  }

  private static String outside(Connection connection) {
    return connection
        .using()
        .carrier()
        .or(
            () ->
                connection.using().application().filter(a -> a.equals("Seal") || a.equals("Pipe")))
        .orElse("");
  }
}
