package ironsieve.model;

import java.time.LocalDate;
import java.util.Optional;

/**
 * What people keep about a rule for those who come after them; decisions do not depend on it.
 *
 * @param note why it is there; may be empty
 * @param owner who answers for it; may be empty
 * @param changes references to the change requests behind it; may be empty
 * @param reviewBy the day by which somebody should look at it again
 */
public record Keeping(String note, String owner, String changes, Optional<LocalDate> reviewBy) {

  /** A note and nothing else. */
  public static Keeping note(String note) {
    return new Keeping(note, "", "", Optional.empty());
  }

  /** Whether its day has passed. */
  public boolean isOverdue(LocalDate today) {
    return reviewBy.map(day -> day.isBefore(today)).orElse(false);
  }
}
