package ironsieve.compile;

import ironsieve.model.FieldName;
import ironsieve.model.NamedSet;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.region.Address;
import ironsieve.region.Line;
import ironsieve.region.Range;
import ironsieve.region.RangeSet;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * Which named sets hold the same, and which lie inside others: networks by their addresses, all
 * else by what is named, with sets inside sets opened. Sets that hold nothing are not compared.
 */
public final class SetComparison {

  private SetComparison() {}

  /**
   * Two sets of a kind.
   *
   * @param one lies inside {@code other}
   * @param same whether {@code other} lies inside it too
   */
  public record Relation(ValueKind kind, String one, String other, boolean same) {}

  /** What a set holds, in one of two forms. */
  private record Held(NamedSet set, RangeSet<Address> addresses, Set<Value> values) {

    private boolean isNothing() {
      return addresses.isEmpty() && values.isEmpty();
    }

    private boolean isInside(Held other) {
      return other.values.containsAll(values) && addresses.minus(other.addresses).isEmpty();
    }
  }

  /**
   * Every two of some sets of which one lies inside the other; of two that hold the same, the first
   * by name is {@code one}.
   *
   * @param names what the sets' values stand for
   */
  public static List<Relation> of(List<NamedSet> sets, Names names) {
    List<Relation> relations = new ArrayList<>();
    List<Held> all =
        sets.stream().map(set -> held(set, names)).filter(held -> !held.isNothing()).toList();
    for (Held one : all) {
      for (Held other : all) {
        if (one != other && one.set.kind() == other.set.kind() && one.isInside(other)) {
          boolean same = other.isInside(one);
          if (!same || one.set.name().compareTo(other.set.name()) < 0) {
            relations.add(new Relation(one.set.kind(), one.set.name(), other.set.name(), same));
          }
        }
      }
    }
    return relations;
  }

  private static Held held(NamedSet set, Names names) {
    List<Range<Address>> ranges = new ArrayList<>();
    Set<Value> values = new HashSet<>();
    for (Value named : set.values()) {
      for (Value value : names.open(set.kind(), named)) {
        Optional<List<Range<Address>>> addresses =
            set.kind() == FieldName.FROM_NETWORKS.kind()
                ? names.environment().atlas().ranges(value)
                : Optional.empty();
        addresses.ifPresentOrElse(ranges::addAll, () -> values.add(value));
      }
    }
    return new Held(set, RangeSet.of(Line.ADDRESSES, ranges), values);
  }
}
