package ironsieve.model;

import java.time.LocalDate;
import java.util.Comparator;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * What people keep about a rule for those who come after them; decisions do not depend on it.
 *
 * @param note why it is there; may be empty
 * @param owner who answers for it; may be empty
 * @param changes references to the change requests behind it; may be empty
 * @param reviewBy the day by which somebody should look at it again
 */
public record RuleMetadata(
    String note, String owner, String changes, Optional<LocalDate> reviewBy) {

  /** A note and nothing else. */
  public static RuleMetadata note(String note) {
    return new RuleMetadata(note, "", "", Optional.empty());
  }

  /**
   * What is kept of two rules that become one: nothing written down is lost, and the earlier day
   * counts.
   *
   * @param from what the other rule was called
   */
  public RuleMetadata with(RuleMetadata other, String from) {
    String more = other.note().isBlank() ? "" : "From " + from + ": " + other.note();
    return new RuleMetadata(
        joined(" ", note, more),
        owner.isBlank() ? other.owner() : owner,
        joined(", ", changes, other.changes()),
        Stream.of(reviewBy, other.reviewBy())
            .flatMap(Optional::stream)
            .min(Comparator.naturalOrder()));
  }

  /** The same with another note. */
  public RuleMetadata withNote(String other) {
    return new RuleMetadata(other, owner, changes, reviewBy);
  }

  private static String joined(String between, String... texts) {
    return Stream.of(texts)
        .filter(text -> !text.isBlank())
        .distinct()
        .collect(Collectors.joining(between));
  }

  /** Whether its day has passed. */
  public boolean isOverdue(LocalDate today) {
    return reviewBy.map(day -> day.isBefore(today)).orElse(false);
  }
}
