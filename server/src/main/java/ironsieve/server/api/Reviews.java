package ironsieve.server.api;

import ironsieve.files.Contents;
import ironsieve.files.Documents.AcceptedDoc;
import ironsieve.review.Review;
import ironsieve.server.edit.Accepted;
import ironsieve.server.edit.RulebaseSnapshot;
import jakarta.enterprise.context.ApplicationScoped;
import java.util.Collections;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * Remembers what the last few reviews said, so that after an edit only what changed has to be sent.
 * What is not remembered any more, or was told by another server, is sent whole.
 */
@ApplicationScoped
public class Reviews {

  /** Reviews of a rulebase, and rulebases. */
  private static final int MOST_KEPT = 8;

  private record SentReview(Review.Mark mark, Set<AcceptedDoc> accepted) {}

  private final Map<String, Map<String, SentReview>> told =
      Collections.synchronizedMap(newestFew());

  /** The review of a snapshot, or what of it differs from that of another state, by its token. */
  ReviewViews.ReviewView of(RulebaseSnapshot snapshot, String since) {
    Review review = snapshot.review();
    Contents contents = snapshot.contents();
    Map<String, SentReview> kept = told.computeIfAbsent(contents.id(), id -> newestFew());
    synchronized (kept) {
      SentReview before = kept.get(since);
      kept.put(
          snapshot.state().token(), new SentReview(review.mark(), Accepted.standing(contents)));
      if (before == null) {
        return ReviewViews.review(snapshot, contents.rules().keySet(), null);
      }
      Set<String> changed = new HashSet<>(review.since(before.mark()));
      changed.addAll(differing(before.accepted(), Accepted.standing(contents)));
      changed.retainAll(contents.rules().keySet());
      return ReviewViews.review(snapshot, changed, since);
    }
  }

  private static <K, V> Map<K, V> newestFew() {
    return new LinkedHashMap<>() {
      private static final long serialVersionUID = 1L;

      @Override
      protected boolean removeEldestEntry(Map.Entry<K, V> eldest) {
        return size() > MOST_KEPT;
      }
    };
  }

  /** The rules of which one side has accepted what the other has not. */
  private static Set<String> differing(Set<AcceptedDoc> before, Set<AcceptedDoc> after) {
    return Stream.concat(
            before.stream().filter(doc -> !after.contains(doc)),
            after.stream().filter(doc -> !before.contains(doc)))
        .map(AcceptedDoc::rule)
        .collect(Collectors.toSet());
  }
}
