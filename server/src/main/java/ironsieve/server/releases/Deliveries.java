package ironsieve.server.releases;

import io.quarkus.runtime.ShutdownEvent;
import io.quarkus.runtime.StartupEvent;
import ironsieve.files.FaultException;
import ironsieve.server.clock.BackgroundThreads;
import ironsieve.server.edit.UnknownException;
import ironsieve.server.jobs.Jobs;
import ironsieve.server.store.Sql;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import jakarta.inject.Inject;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Timestamp;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.function.Function;
import java.util.stream.Collectors;

/**
 * Tells gateways of releases: all at once, or in waves, each once the ones before it have the
 * release in force for a while and none of them failed. Of several servers on one database one
 * tells each wave.
 */
@ApplicationScoped
public class Deliveries {

  private static final int TICK_SECONDS = 5;
  private static final int MOST_MINUTES = 7 * 24 * 60;
  private static final int MOST_WAVES = 20;

  private static final String COLUMNS =
      "select rulebase, release, waves, minutes, begins, told, settled, state, why, who, at from"
          + " delivery_plan ";

  @Inject GatewayStore gateways;
  @Inject Jobs jobs;
  @Inject Sql sql;
  @Inject Clock clock;

  private ScheduledExecutorService thread;

  void onStart(@Observes StartupEvent event) {
    thread = BackgroundThreads.thread("deliveries");
    thread.scheduleWithFixedDelay(this::look, TICK_SECONDS, TICK_SECONDS, TimeUnit.SECONDS);
  }

  void onStop(@Observes ShutdownEvent event) {
    if (thread != null) {
      thread.shutdownNow();
    }
  }

  /**
   * In which order gateways are told.
   *
   * @param waves names of gateways; those that stand in none follow in a last wave
   * @param minutes that pass before the next wave
   * @param begins when the first wave is told; nothing for at once
   */
  public record Order(List<List<String>> waves, int minutes, Optional<Instant> begins) {

    /** All gateways, at once. */
    public static final Order AT_ONCE = new Order(List.of(), 0, Optional.empty());
  }

  /** Demands that an order can be kept, before anything is made for it. */
  void demand(String rulebase, Order order) {
    Set<String> known =
        gateways.all().stream()
            .filter(one -> one.rulebase().equals(rulebase))
            .map(Gateway::name)
            .collect(Collectors.toSet());
    Set<String> seen = new HashSet<>();
    for (List<String> wave : order.waves()) {
      if (wave == null || wave.isEmpty()) {
        throw new FaultException("plan", "waves", "a wave has at least one gateway");
      }
      for (String name : wave) {
        if (name == null || !known.contains(name)) {
          throw new FaultException(
              "plan", "waves", "no gateway of this rulebase is called \"" + name + "\"");
        }
        if (!seen.add(name)) {
          throw new FaultException("plan", "waves", "the gateway " + name + " stands in two waves");
        }
      }
    }
    if (order.waves().size() > MOST_WAVES) {
      throw new FaultException("plan", "waves", "there are at most " + MOST_WAVES + " waves");
    }
    if (order.minutes() < 0 || order.minutes() > MOST_MINUTES) {
      throw new FaultException(
          "plan", "minutes", "between two waves pass 0 to " + MOST_MINUTES + " minutes, a week");
    }
  }

  /** Begins to tell of a release; a plan that was there before ends. */
  void begin(Sql.Transaction tx, Release release, Order order, String who) throws SQLException {
    tx.change("delete from delivery_plan where rulebase = ?", release.rulebase());
    List<String> all = gateways.of(tx, release.rulebase()).stream().map(Gateway::name).toList();
    List<List<String>> waves = new ArrayList<>();
    order.waves().forEach(wave -> waves.add(wave.stream().filter(all::contains).toList()));
    List<String> rest =
        all.stream().filter(name -> waves.stream().noneMatch(w -> w.contains(name))).toList();
    if (!rest.isEmpty()) {
      waves.add(rest);
    }
    waves.removeIf(List::isEmpty);
    DeliveryPlan plan =
        new DeliveryPlan(
            release.rulebase(),
            release.number(),
            waves,
            order.minutes(),
            order.begins(),
            0,
            Optional.empty(),
            DeliveryPlan.State.GOING,
            "",
            who,
            clock.instant());
    boolean isLater = order.begins().filter(clock.instant()::isBefore).isPresent();
    if (waves.size() <= 1 && !isLater) {
      tell(tx, release.rulebase(), release.number(), all);
      return;
    }
    keep(tx, isLater ? plan : next(tx, plan));
  }

  /** Tells gateways, whatever they were told before. */
  private void tell(Sql.Transaction tx, String rulebase, int release, List<String> names)
      throws SQLException {
    for (Gateway one : gateways.of(tx, rulebase)) {
      if (names.contains(one.name())) {
        int newest = Math.max(one.wanted().orElse(0), one.inForce().orElse(0));
        gateways.tell(tx, one.name(), release, release < newest);
      }
    }
  }

  private DeliveryPlan next(Sql.Transaction tx, DeliveryPlan plan) throws SQLException {
    tell(tx, plan.rulebase(), plan.release(), plan.waves().get(plan.told()));
    return plan.further();
  }

  private void keep(Sql.Transaction tx, DeliveryPlan plan) throws SQLException {
    tx.change(
        "insert into delivery_plan (rulebase, release, waves, minutes, begins, told, settled,"
            + " state, why, who, at) values (?, ?, ?::jsonb, ?, ?, ?, ?, ?, ?, ?, ?)"
            + " on conflict (rulebase) do update set told = excluded.told, settled ="
            + " excluded.settled, state = excluded.state, why = excluded.why",
        plan.rulebase(),
        plan.release(),
        sql.json(plan.waves()),
        plan.minutes(),
        plan.begins().map(Timestamp::from).orElse(null),
        plan.told(),
        plan.settled().map(Timestamp::from).orElse(null),
        plan.state().word(),
        plan.why(),
        plan.who(),
        Timestamp.from(plan.at()));
  }

  private DeliveryPlan plan(ResultSet row) throws SQLException {
    String[][] waves = sql.read(row.getString("waves"), String[][].class);
    return new DeliveryPlan(
        row.getString("rulebase"),
        row.getInt("release"),
        java.util.Arrays.stream(waves).map(List::of).toList(),
        row.getInt("minutes"),
        Optional.ofNullable(row.getTimestamp("begins")).map(Timestamp::toInstant),
        row.getInt("told"),
        Optional.ofNullable(row.getTimestamp("settled")).map(Timestamp::toInstant),
        DeliveryPlan.State.valueOf(row.getString("state").toUpperCase(java.util.Locale.ROOT)),
        row.getString("why"),
        row.getString("who"),
        row.getTimestamp("at").toInstant());
  }

  /** The plan of a rulebase; nothing where all gateways were told at once. */
  public Optional<DeliveryPlan> plan(String rulebase) {
    return sql.inTransaction(tx -> tx.row(COLUMNS + "where rulebase = ?", this::plan, rulebase));
  }

  /** Looks at every plan whether it goes on. */
  void look() {
    try {
      sql.inTransaction(
          tx -> {
            List<DeliveryPlan> going =
                tx.rows(COLUMNS + "where state = 'going' for update skip locked", this::plan);
            for (DeliveryPlan plan : going) {
              DeliveryPlan next = looked(tx, plan);
              if (!next.equals(plan)) {
                keep(tx, next);
              }
            }
            return going.size();
          });
    } catch (RuntimeException e) {
      // The database may be away for a while; the next look is soon.
      jobs.fail(Jobs.Kind.DELIVERY, "the look at all deliveries", "", e);
    }
  }

  private DeliveryPlan looked(Sql.Transaction tx, DeliveryPlan plan) throws SQLException {
    Map<String, Gateway> now =
        gateways.of(tx, plan.rulebase()).stream()
            .collect(Collectors.toMap(Gateway::name, Function.identity()));
    List<Gateway> told =
        plan.toldGateways().stream().map(now::get).filter(java.util.Objects::nonNull).toList();
    Optional<Gateway> failed =
        told.stream()
            .filter(one -> one.wanted().equals(Optional.of(plan.release())))
            .filter(one -> one.state().equals("failed"))
            .findFirst();
    if (failed.isPresent()) {
      return plan.with(
          DeliveryPlan.State.HELD,
          failed.get().name() + " could not take it: " + failed.get().why());
    }
    boolean isSettled =
        told.stream()
            .allMatch(
                one ->
                    one.inForce().equals(Optional.of(plan.release()))
                        && one.state().equals("in force"));
    DeliveryPlan seen =
        isSettled
            ? plan.settled().isPresent() ? plan : plan.settledAt(Optional.of(clock.instant()))
            : plan.settledAt(Optional.empty());
    boolean isDue = seen.due().filter(when -> !when.isAfter(clock.instant())).isPresent();
    return isSettled && isDue ? next(tx, seen) : seen;
  }

  /** What somebody has a plan do. */
  public enum Act {
    PAUSE,
    /** Tells the next wave now. */
    GO_ON,
    STOP
  }

  /**
   * Has a plan do something.
   *
   * @throws FaultException if it is over
   */
  public DeliveryPlan act(String rulebase, Act act) {
    return sql.inTransaction(
        tx -> {
          DeliveryPlan plan =
              tx.row(COLUMNS + "where rulebase = ? for update", this::plan, rulebase)
                  .orElseThrow(() -> UnknownException.of("plan", rulebase, List.of()));
          boolean isOver =
              plan.state() == DeliveryPlan.State.DONE || plan.state() == DeliveryPlan.State.STOPPED;
          if (isOver) {
            throw new FaultException(
                "plan", "", "the delivery of release " + plan.release() + " is over");
          }
          DeliveryPlan after =
              switch (act) {
                case PAUSE -> plan.with(DeliveryPlan.State.PAUSED, "");
                case STOP -> plan.with(DeliveryPlan.State.STOPPED, "");
                case GO_ON -> next(tx, plan.with(DeliveryPlan.State.GOING, ""));
              };
          keep(tx, after);
          return after;
        });
  }
}
