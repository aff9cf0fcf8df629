package ironsieve.reach;

import ironsieve.model.Value;
import java.util.List;

/**
 * Pairs of zones between which some people can use the same.
 *
 * @param ways the pairs, put together: from each of some zones to each of some zones
 * @param allowed what they can always use there, in the order asked for
 * @param depends what they can use or not, depending on more than the zones
 * @param blocked what they can never use there
 */
public record ZoneGroup(
    List<Way> ways, List<Value> allowed, List<Value> depends, List<Value> blocked) {

  /**
   * From each of some zones to each of some zones.
   *
   * @param from names of zones
   * @param to names of zones
   */
  public record Way(List<String> from, List<String> to) {

    public Way {
      from = List.copyOf(from);
      to = List.copyOf(to);
    }

    /** How many pairs of zones. */
    public int pairs() {
      return from.size() * to.size();
    }
  }

  public ZoneGroup {
    ways = List.copyOf(ways);
    allowed = List.copyOf(allowed);
    depends = List.copyOf(depends);
    blocked = List.copyOf(blocked);
  }

  /** How many pairs of zones. */
  public int pairs() {
    return ways.stream().mapToInt(Way::pairs).sum();
  }
}
