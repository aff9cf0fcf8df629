package ironsieve.server.edit;

import java.time.Instant;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * The snapshots that are remembered: of each rulebase the newest and the few before it, and of all
 * rulebases together only as many as weigh no more than they may. Those that were not asked for the
 * longest go first; a snapshot can always be made again from the database. Safe for many threads.
 */
final class SnapshotCache {

  /** As many edits as somebody makes without a pause; it is asked then what they did together. */
  private static final int MOST_PREVIOUS = 12;

  private final long most;
  private final Map<String, OfRulebase> all = new LinkedHashMap<>(16, 0.75f, true);
  private long weight;

  private static final class OfRulebase {
    private RulebaseSnapshot newest;
    private final Deque<RulebaseSnapshot> previous = new ArrayDeque<>();
    private long weight;
    private Instant asked = Instant.MIN;

    /** Those before share with the newest all that an edit does not touch. */
    private long weigh() {
      long own = newest == null ? 0 : newest.weight();
      return own + own / 8 * previous.size();
    }
  }

  /**
   * Remembers no more than this.
   *
   * @param most in bytes, as {@link RulebaseSnapshot#weight} estimates them; the rulebase asked for
   *     last is kept whatever it weighs
   */
  SnapshotCache(long most) {
    this.most = most;
  }

  /** The newest snapshot of a rulebase, if it is remembered. */
  synchronized Optional<RulebaseSnapshot> newest(String rulebase) {
    OfRulebase known = all.get(rulebase);
    return known == null ? Optional.empty() : Optional.ofNullable(known.newest);
  }

  /**
   * The same for somebody who waits for it; that they did counts also where it is not yet there.
   */
  synchronized Optional<RulebaseSnapshot> asked(String rulebase, Instant now) {
    all.computeIfAbsent(rulebase, id -> new OfRulebase()).asked = now;
    return newest(rulebase);
  }

  /** The rulebases that somebody has asked for since. */
  synchronized List<String> askedSince(Instant then) {
    return all.entrySet().stream()
        .filter(entry -> entry.getValue().asked.isAfter(then))
        .map(Map.Entry::getKey)
        .toList();
  }

  /**
   * What the newest edits of a rulebase were made on, as far as it is remembered, the newest first.
   */
  synchronized List<RulebaseSnapshot> previous(String rulebase) {
    OfRulebase known = all.get(rulebase);
    return known == null ? List.of() : List.copyOf(known.previous);
  }

  /** Remembers a snapshot, unless a newer one of its rulebase is known. */
  synchronized void keep(RulebaseSnapshot made) {
    OfRulebase of = all.computeIfAbsent(made.contents().id(), id -> new OfRulebase());
    boolean isOlder =
        of.newest != null
            && of.newest.state().readsLike(made.state())
            && of.newest.revision() > made.revision();
    of.newest = isOlder ? of.newest : made;
    weighAnew(of);
  }

  /** Remembers what an edit was made on. */
  synchronized void replaced(RulebaseSnapshot before) {
    OfRulebase of = all.computeIfAbsent(before.contents().id(), id -> new OfRulebase());
    of.previous.addFirst(before);
    while (of.previous.size() > MOST_PREVIOUS) {
      of.previous.removeLast();
    }
    weighAnew(of);
  }

  private void weighAnew(OfRulebase of) {
    weight -= of.weight;
    of.weight = of.weigh();
    weight += of.weight;
    Iterator<OfRulebase> oldest = all.values().iterator();
    while (weight > most && oldest.hasNext()) {
      OfRulebase next = oldest.next();
      if (next != of) {
        weight -= next.weight;
        oldest.remove();
      }
    }
  }

  /** How many rulebases are remembered. */
  synchronized int rulebases() {
    return all.size();
  }
}
