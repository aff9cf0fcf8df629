package ironsieve.review;

import ironsieve.compile.CompiledEdit;
import java.util.Comparator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.stream.Stream;

/**
 * What an edit does to the findings besides what it is made for: a rule that it empties, one that
 * it shadows, one that needs no remedy any more. What need not be looked at is left out.
 *
 * @param ended the findings there were and are no more
 * @param begun the findings there are and were not
 */
public record Aftermath(List<Notice> ended, List<Notice> begun) {

  /** A kind of finding about a rule, by its id. */
  public record Notice(String rule, Finding.Kind kind) {}

  /** Compares the reviews of two rulebases, of which one became the other by an edit. */
  public static Aftermath of(Review before, Review after) {
    Set<String> rules = after.since(before.mark());
    // In the order of the rules, so that the same edit is always told the same.
    Set<Notice> old = notices(before, rules);
    Set<Notice> next = notices(after, rules);
    return new Aftermath(
        old.stream().filter(notice -> !next.contains(notice)).toList(),
        next.stream().filter(notice -> !old.contains(notice)).toList());
  }

  /** The same, with the review after an edit made for it. */
  public static Aftermath of(Review before, CompiledEdit edit) {
    return of(before, Reviewer.again(before, edit));
  }

  private static Set<Notice> notices(Review review, Set<String> rules) {
    Stream<String> ordered =
        rules.stream()
            .filter(rule -> review.compiled().rule(rule).isPresent())
            .sorted(Comparator.comparing(review::number));
    Set<Notice> notices = new LinkedHashSet<>();
    ordered.forEach(
        rule ->
            review.of(rule).stream()
                .filter(finding -> finding.severity() != Finding.Severity.QUIET)
                .forEach(finding -> notices.add(new Notice(rule, finding.kind()))));
    return notices;
  }
}
