package ironsieve.server.edit;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.server.store.Done;
import ironsieve.server.store.JournalEntry;
import ironsieve.server.store.WorkspaceEntry;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class UndoStackTest {

  /**
   * A history from letters: an upper-case letter is an edit of that name, u an undo, r a redo; a
   * digit puts that edition in force, v takes such a thing back and s makes it again.
   */
  private static UndoStack after(String history) {
    List<JournalEntry> entries = new ArrayList<>();
    List<WorkspaceEntry> changes = new ArrayList<>();
    for (char c : history.toCharArray()) {
      Instant at = Instant.EPOCH.plusSeconds(entries.size() + changes.size());
      String action = "uv".indexOf(c) >= 0 ? "undo" : "rs".indexOf(c) >= 0 ? "redo" : "edit";
      if (Character.isDigit(c) || "vs".indexOf(c) >= 0) {
        String what =
            Character.isDigit(c) ? "put catalogue edition " + c + " in force" : "taken back";
        changes.add(new WorkspaceEntry(0, 0, at, "ada", "", what, action, null, List.of()));
      } else {
        entries.add(
            new JournalEntry(
                entries.size() + 1L, at, "ada", "", String.valueOf(c), action, null, List.of()));
      }
    }
    return new UndoStack(entries, changes);
  }

  @ParameterizedTest
  @CsvSource({
    "'', -, -",
    "A, A, -",
    "AB, B, -",
    "ABu, A, B",
    "ABuu, -, A",
    "ABuur, A, B",
    "ABuurr, B, -",
    "ABuC, C, -",
    "ABuCu, A, C",
    "A2, put catalogue edition 2 in force, -",
    "A2v, A, put catalogue edition 2 in force",
    "A2vu, -, A",
    "A2vur, A, put catalogue edition 2 in force",
    "A2vs, put catalogue edition 2 in force, -",
    "A2B, B, -",
    "Au2, put catalogue edition 2 in force, -"
  })
  void anEditCanBeUndoneAndAnUndoRedoneUntilTheNextEdit(String journal, String undo, String redo) {
    UndoStack stack = after(journal);
    assertThat(stack.toUndo().map(Done::what).orElse("-")).isEqualTo(undo);
    assertThat(stack.toRedo().map(Done::what).orElse("-")).isEqualTo(redo);
  }
}
