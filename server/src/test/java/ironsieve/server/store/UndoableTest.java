package ironsieve.server.store;

import static org.assertj.core.api.Assertions.assertThat;

import io.quarkus.test.junit.QuarkusTest;
import ironsieve.Cases;
import ironsieve.server.DemoData;
import jakarta.inject.Inject;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What can be taken back, as the journals say it, beside a twin that keeps it in lists. */
@QuarkusTest
class UndoableTest {

  private static final String BASE = "main-gateway";

  @Inject DemoData demo;
  @Inject Sql sql;
  @Inject RulebaseStore rulebases;
  @Inject WorkspaceStore workspace;

  private int people;

  @BeforeEach
  void restore() {
    demo.restore();
  }

  /** Something done, by its name and number; when it was taken back, if it was. */
  private record Act(String name, long number, int undone) {}

  /** What one person did in one journal, as it would be kept without a database. */
  private static final class Twin {
    private final List<Act> done = new ArrayList<>();
    private final List<Act> undone = new ArrayList<>();
    private int edited = -1;

    void edit(Act act, int now) {
      done.add(act);
      undone.clear();
      edited = now;
    }

    Act undo(int now) {
      Act act = done.remove(done.size() - 1);
      undone.add(new Act(act.name(), act.number(), now));
      return act;
    }

    Act redo() {
      Act act = undone.remove(undone.size() - 1);
      done.add(act);
      return act;
    }

    Optional<Act> toUndo() {
      return done.isEmpty() ? Optional.empty() : Optional.of(done.get(done.size() - 1));
    }

    Optional<Act> toRedo(int since) {
      return undone.isEmpty() || undone.get(undone.size() - 1).undone() < since
          ? Optional.empty()
          : Optional.of(undone.get(undone.size() - 1));
    }
  }

  private long enter(
      boolean inWorkspace, String who, String what, String action, Optional<Long> target) {
    return sql.inTransaction(
        tx -> {
          Long whose = target.orElse(null);
          if (inWorkspace) {
            workspace.enter(
                tx,
                new WorkspaceEntry(0, 1, Instant.EPOCH, who, "", what, action, whose, List.of()));
            return tx.row("select max(number) from workspace_journal", row -> row.getLong(1))
                .orElseThrow();
          }
          long next = rulebases.state(tx, BASE).orElseThrow().revision() + 1;
          rulebases.write(
              tx,
              BASE,
              new JournalEntry(next, Instant.EPOCH, who, "", what, action, whose, List.of()));
          return next;
        });
  }

  private String said(boolean inWorkspace, String who) {
    Undoable can =
        sql.inTransaction(
            tx ->
                inWorkspace
                    ? workspace.undoable(tx, who)
                    : rulebases.undoable(tx, BASE, who).with(workspace.undoable(tx, who)));
    return can.done().map(Done::what).orElse("-") + can.undone().map(Done::what).orElse("-");
  }

  /**
   * A history from letters: {@code e} edits the rulebase and {@code E} the workspace, {@code u} and
   * {@code r} take back and make again at the rulebase, {@code U} and {@code R} at the workspace.
   * After each, what can be taken back is what the twin says.
   */
  private String follow(String history) {
    String who = "person " + people++;
    Twin own = new Twin();
    Twin shared = new Twin();
    int now = 0;
    for (char c : history.toCharArray()) {
      now++;
      if (c == 'e' || c == 'E') {
        String name = String.valueOf((char) ('a' + now - 1));
        long number = enter(c == 'E', who, name, "edit", Optional.empty());
        (c == 'E' ? shared : own).edit(new Act(name, number, -1), now);
      } else {
        boolean undoes = c == 'u' || c == 'U';
        boolean here = c == 'u' || c == 'r';
        Optional<Act> mine =
            !here ? Optional.empty() : undoes ? own.toUndo() : own.toRedo(shared.edited);
        Optional<Act> theirs = undoes ? shared.toUndo() : shared.toRedo(here ? own.edited : -1);
        boolean inWorkspace =
            theirs.isPresent()
                && (mine.isEmpty()
                    || (undoes
                        ? theirs.get().name().compareTo(mine.get().name()) > 0
                        : theirs.get().undone() > mine.get().undone()));
        Optional<Act> which = inWorkspace ? theirs : mine;
        if (which.isEmpty()) {
          continue;
        }
        Twin twin = inWorkspace ? shared : own;
        long target = (undoes ? twin.undo(now) : twin.redo()).number();
        enter(inWorkspace, who, "back", undoes ? "undo" : "redo", Optional.of(target));
      }
      assertThat(said(true, who))
          .as("%s at the workspace after %d", history, now)
          .isEqualTo(said(Optional.empty(), shared.toUndo(), Optional.empty(), shared.toRedo(-1)));
      assertThat(said(false, who))
          .as("%s at the rulebase after %d", history, now)
          .isEqualTo(
              said(
                  own.toUndo(),
                  shared.toUndo(),
                  own.toRedo(shared.edited),
                  shared.toRedo(own.edited)));
    }
    return said(false, who);
  }

  private static String said(
      Optional<Act> done, Optional<Act> doneThere, Optional<Act> undone, Optional<Act> there) {
    List<Act> newest = new ArrayList<>();
    done.ifPresent(newest::add);
    doneThere.ifPresent(newest::add);
    List<Act> last = new ArrayList<>();
    undone.ifPresent(last::add);
    there.ifPresent(last::add);
    return newest.stream().map(Act::name).max(String::compareTo).orElse("-")
        + last.stream()
            .max((one, other) -> Integer.compare(one.undone(), other.undone()))
            .map(Act::name)
            .orElse("-");
  }

  @ParameterizedTest
  @CsvSource({
    "'', --",
    "e, a-",
    "ee, b-",
    "eeu, ab",
    "eeuu, -a",
    "eeuur, ab",
    "eeuurr, b-",
    "eeue, d-",
    "eeueu, ad",
    "eE, b-",
    "eEu, ab",
    "eEuu, -a",
    "eEuur, ab",
    "eEur, b-",
    "eEe, c-",
    "euE, c-",
    // Taken back at the workspace what was not done last: the rulebase's own edit stands.
    "EeU, ba"
  })
  void anEditCanBeUndoneAndAnUndoRedoneUntilTheNextEdit(String history, String can) {
    assertThat(follow(history)).isEqualTo(can);
  }

  @Test
  void whatCanBeTakenBackIsWhatWasDoneAndNotTakenBack() {
    Random random = new Random(11);
    for (int i = 0; i < Cases.rounds(150); i++) {
      StringBuilder history = new StringBuilder();
      int length = 1 + random.nextInt(20);
      for (int n = 0; n < length; n++) {
        history.append("eEeEurURuU".charAt(random.nextInt(10)));
      }
      follow(history.toString());
    }
  }
}
