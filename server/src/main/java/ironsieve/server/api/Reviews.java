package ironsieve.server.api;

import ironsieve.files.Contents;
import ironsieve.files.Documents.AcceptedDoc;
import ironsieve.review.Review;
import ironsieve.server.edit.Bench;
import jakarta.enterprise.context.ApplicationScoped;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;

/**
 * Remembers what the last few reviews said, so that after an edit only what changed has to be sent.
 * What is not remembered any more, or was told by another server, is sent whole.
 */
@ApplicationScoped
public class Reviews {

  private static final int MOST_KEPT = 8;

  private record Told(Review.Mark mark, Map<String, AcceptedDoc> accepted) {}

  private final Map<String, Map<Long, Told>> told = new ConcurrentHashMap<>();

  /** The review of a bench, or what of it differs from that of an earlier revision. */
  Views.ReviewView of(Bench bench, long since) {
    Review review = bench.review();
    Contents contents = bench.contents();
    Map<Long, Told> kept = told.computeIfAbsent(contents.id(), id -> newestFew());
    synchronized (kept) {
      Told before = kept.get(since);
      kept.put(bench.revision(), new Told(review.mark(), contents.accepted()));
      if (before == null) {
        return Views.review(bench, contents.rules().keySet(), null);
      }
      Set<String> changed = new HashSet<>(review.since(before.mark()));
      differing(before.accepted(), contents.accepted()).forEach(changed::add);
      changed.retainAll(contents.rules().keySet());
      return Views.review(bench, changed, since);
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

  private static Set<String> differing(
      Map<String, AcceptedDoc> before, Map<String, AcceptedDoc> after) {
    Set<String> rules = new HashSet<>();
    before.forEach((id, doc) -> addIf(!doc.equals(after.get(id)), doc, rules));
    after.forEach((id, doc) -> addIf(!doc.equals(before.get(id)), doc, rules));
    return rules;
  }

  private static void addIf(boolean differs, AcceptedDoc doc, Set<String> rules) {
    if (differs) {
      rules.add(doc.rule());
    }
  }
}
