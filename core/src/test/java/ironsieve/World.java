package ironsieve;

import ironsieve.model.Environment;
import ironsieve.model.FieldName;
import ironsieve.model.Parts;
import ironsieve.model.Rule;
import ironsieve.model.ValueKind;
import java.util.List;
import java.util.function.Function;
import net.jqwik.api.Arbitraries;
import net.jqwik.api.Arbitrary;

/**
 * A world small enough to be enumerated: every connection there can be is represented by one of its
 * points, as far as rules over its fields and values can tell.
 *
 * @param fields the fields its rules use
 * @param values the values they use, by kind
 * @param parts what its rulebases share
 * @param thens what its rules do
 */
public record World(
    Environment environment,
    List<SmallWorld.Point> points,
    List<FieldName> fields,
    Function<ValueKind, List<String>> values,
    Arbitrary<Parts> parts,
    Arbitrary<Rule.Then> thens) {

  /** All of them. */
  public static Arbitrary<World> any() {
    return Arbitraries.of(SmallWorld.WORLD, WebWorld.WORLD);
  }

  /** The points from today on. */
  public List<SmallWorld.Point> ahead() {
    return points.stream().filter(SmallWorld.Point::ahead).toList();
  }

  @Override
  public String toString() {
    return fields.contains(FieldName.TO_SITES) ? "web world" : "small world";
  }
}
