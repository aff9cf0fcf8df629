package ironsieve.server.edit;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.server.store.JournalEntry;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class UndoStackTest {

  /** A journal from letters: an upper-case letter is an edit of that name, u an undo, r a redo. */
  private static UndoStack after(String journal) {
    List<JournalEntry> entries = new ArrayList<>();
    for (char c : journal.toCharArray()) {
      String action = c == 'u' ? "undo" : c == 'r' ? "redo" : "edit";
      entries.add(
          new JournalEntry(
              entries.size() + 1L,
              Instant.EPOCH,
              "ada",
              String.valueOf(c),
              action,
              null,
              List.of()));
    }
    return new UndoStack(entries);
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
    "ABuCu, A, C"
  })
  void anEditCanBeUndoneAndAnUndoRedoneUntilTheNextEdit(String journal, String undo, String redo) {
    UndoStack stack = after(journal);
    assertThat(stack.toUndo().map(JournalEntry::what).orElse("-")).isEqualTo(undo);
    assertThat(stack.toRedo().map(JournalEntry::what).orElse("-")).isEqualTo(redo);
  }
}
