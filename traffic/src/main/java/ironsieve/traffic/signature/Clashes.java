package ironsieve.traffic.signature;

import ironsieve.traffic.protocol.Field;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Signatures that can both hold of one connection, say different things of it, and of which neither
 * is more specific; each pair with such a connection.
 */
public final class Clashes {

  /** Of more pairs only so many are looked for: whoever has that many has one cause. */
  private static final int MOST = 200;

  private Clashes() {}

  /**
   * Two signatures that cannot be told apart.
   *
   * @param witness a connection that both hold of
   */
  public record Clash(Signature first, Signature second, Unit witness) {

    /** All of it as one sentence. */
    public String sentence() {
      return first.recognises()
          + " ("
          + SignatureText.print(first)
          + ") and "
          + second.recognises()
          + " ("
          + SignatureText.print(second)
          + "), such as by "
          + Witness.describe(witness);
    }
  }

  private record Sided(Signature signature, Clause clause, Rank rank) {}

  /** All pairs, up to a number. */
  public static List<Clash> of(SignatureBook book) {
    Map<Object, List<Sided>> alike = new LinkedHashMap<>();
    for (Signature signature : book.signatures()) {
      for (Clause whole : Clause.of(signature)) {
        for (Clause clause : whole.byName()) {
          Rank rank = Rank.of(signature.isOwn(), clause);
          // Features are told apart within their application only.
          Object bucket =
              signature.feature().isPresent()
                  ? List.of(signature.application(), rank)
                  : List.of(rank, Witness.name(clause).orElse(""));
          alike
              .computeIfAbsent(bucket, key -> new ArrayList<>())
              .add(new Sided(signature, clause, rank));
        }
      }
    }
    Map<List<String>, Clash> found = new LinkedHashMap<>();
    for (List<Sided> bucket : alike.values()) {
      pairs(bucket, book.ridesOn(), found);
    }
    return List.copyOf(found.values());
  }

  private static void pairs(
      List<Sided> bucket, Map<String, Set<String>> ridesOn, Map<List<String>, Clash> found) {
    for (int i = 0; i < bucket.size(); i++) {
      for (int j = i + 1; j < bucket.size() && found.size() < MOST; j++) {
        Sided one = bucket.get(i);
        Sided other = bucket.get(j);
        List<String> key = List.of(one.signature.recognises(), other.signature.recognises());
        if (saysTheSame(one, other)
            || found.containsKey(key)
            || isAbove(one, other, ridesOn)
            || isToldByLayer(one, other)
            || areBothMeant(one, other)) {
          continue;
        }
        Optional<Unit> witness = Witness.of(one.clause.and(other.clause));
        witness
            .filter(unit -> one.clause.holds(unit) && other.clause.holds(unit))
            .ifPresent(unit -> found.put(key, new Clash(one.signature, other.signature, unit)));
      }
    }
  }

  private static boolean saysTheSame(Sided one, Sided other) {
    return one.signature.recognises().equals(other.signature.recognises());
  }

  /** Of several protocols it is the one that the others are inside of. */
  private static boolean isToldByLayer(Sided one, Sided other) {
    return one.rank.strength() == 1 && asksForProtocol(one) && asksForProtocol(other);
  }

  private static boolean asksForProtocol(Sided sided) {
    return sided.clause.wanted().stream().anyMatch(term -> term.field() == Field.PROTOCOL);
  }

  /** Two features that first bytes show are both meant; one request is about one. */
  private static boolean areBothMeant(Sided one, Sided other) {
    return one.signature.feature().isPresent()
        && (!isOfRequest(one.clause) || !isOfRequest(other.clause));
  }

  private static boolean isOfRequest(Clause clause) {
    return clause.wanted().stream().anyMatch(term -> Witness.isOfRequest(term.field()));
  }

  private static boolean isAbove(Sided one, Sided other, Map<String, Set<String>> ridesOn) {
    String first = one.signature.application();
    String second = other.signature.application();
    return ridesOn.getOrDefault(first, Set.of()).contains(second)
        || ridesOn.getOrDefault(second, Set.of()).contains(first);
  }
}
