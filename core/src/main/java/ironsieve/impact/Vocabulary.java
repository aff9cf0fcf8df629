package ironsieve.impact;

import ironsieve.compile.CompiledRulebase;
import ironsieve.compile.Dimension;
import ironsieve.compile.Names;
import ironsieve.compile.Space;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.Rule;
import ironsieve.model.UsageSheet;
import ironsieve.model.Value;
import ironsieve.model.Zone;
import ironsieve.region.IndexSet;
import ironsieve.text.ValueText;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Names for sets of atoms, in the words the rulebase itself uses: a set is said as a union of
 * values, as one value without some others, or, where neither fits exactly, by an example and that
 * it stands for more.
 */
final class Vocabulary {

  private static final int MOST_WORDS = 6;
  private static final Map<Dimension, String> PARTS =
      Map.of(
          Dimension.FROM, "from",
          Dimension.PERSON, "person",
          Dimension.DEVICE, "device",
          Dimension.TO, "to",
          Dimension.SITE, "site",
          Dimension.SERVICE, "service",
          Dimension.USING, "application",
          Dimension.TIME, "time");

  private record Name(String text, IndexSet atoms, int size) {}

  private final Space space;
  private final List<List<Name>> names = new ArrayList<>();

  /**
   * The words of these rulebases.
   *
   * @param rules the ids of the rules whose words to use; what rules share is used in any case
   */
  Vocabulary(Space space, List<CompiledRulebase> rulebases, Set<String> rules) {
    this.space = space;
    for (Dimension dimension : Dimension.values()) {
      Map<String, IndexSet> found = new LinkedHashMap<>();
      for (FieldName field : dimension.fields()) {
        zones(field, rulebases.get(0).names(), found);
        for (CompiledRulebase rulebase : rulebases) {
          rulebase.rules().stream()
              .filter(rule -> rules.contains(rule.rule().id()))
              .forEach(rule -> values(field, rule.rule().match(), rulebase.names(), found));
          rulebase
              .rulebase()
              .parts()
              .reading()
              .forEach(line -> values(field, line.match(), rulebase.names(), found));
          if (field == FieldName.APPLICATIONS) {
            rulebase
                .rulebase()
                .parts()
                .sheets()
                .forEach(sheet -> sheet.lines().forEach(line -> lines(line, rulebase, found)));
          }
        }
      }
      List<Name> sorted = new ArrayList<>();
      found.forEach((text, atoms) -> sorted.add(new Name(text, atoms, atoms.count())));
      sorted.sort(Comparator.comparing(Name::size).reversed());
      names.add(sorted);
    }
  }

  private void zones(FieldName field, Names names, Map<String, IndexSet> found) {
    if (field == FieldName.FROM_ZONES || field == FieldName.TO_ZONES) {
      for (Zone zone : space.surroundings().zones()) {
        found.put(zone.name(), space.side(field, Field.is(new Value.ZoneName(zone.name())), names));
      }
    }
  }

  private void lines(UsageSheet.Line line, CompiledRulebase rulebase, Map<String, IndexSet> found) {
    Rule.Match match = Rule.Match.any().with(FieldName.APPLICATIONS, Field.is(line.about()));
    values(FieldName.APPLICATIONS, match, rulebase.names(), found);
  }

  private void values(FieldName field, Rule.Match match, Names names, Map<String, IndexSet> found) {
    if (match.field(field).isEmpty()) {
      return;
    }
    for (Value value : match.field(field).get().values()) {
      IndexSet atoms = space.side(field, Field.is(value), names);
      // A set that stands for something else afterwards is no name for either.
      found.merge(ValueText.print(value), atoms, (a, b) -> a.equals(b) ? a : IndexSet.EMPTY);
    }
  }

  /**
   * The words for one side of a box.
   *
   * @param whole the atoms that count as "any" here
   * @param example how a member reads
   * @return nothing where the side is all of {@code whole}
   */
  Optional<Impact.Words> say(Dimension dimension, IndexSet side, IndexSet whole, String example) {
    if (side.containsAll(whole)) {
      return Optional.empty();
    }
    List<Name> known = within(names.get(dimension.ordinal()), whole);
    Optional<String> text =
        union(known, side)
            .or(() -> union(known, whole.minus(side)).map(rest -> "anything but " + rest))
            .or(() -> insideOne(known, side));
    return Optional.of(
        new Impact.Words(PARTS.get(dimension), text.orElse("some, such as " + example)));
  }

  /** The side as a union of values, if they make it up exactly. */
  private static Optional<String> union(List<Name> known, IndexSet side) {
    List<String> words = new ArrayList<>();
    IndexSet left = side;
    for (Name name : known) {
      if (name.size() > 0 && side.containsAll(name.atoms()) && left.intersects(name.atoms())) {
        words.add(name.text());
        left = left.minus(name.atoms());
        if (left.isEmpty()) {
          return Optional.of(String.join(", ", words));
        }
        if (words.size() == MOST_WORDS) {
          return Optional.empty();
        }
      }
    }
    return Optional.empty();
  }

  private static Optional<String> without(
      List<Name> known, IndexSet side, IndexSet all, String name) {
    return union(known, all.minus(side)).map(rest -> name + " but not " + rest);
  }

  /** The side as the smallest value that holds it, without others. */
  private static Optional<String> insideOne(List<Name> known, IndexSet side) {
    for (int i = known.size() - 1; i >= 0; i--) {
      Name name = known.get(i);
      if (name.atoms().containsAll(side)) {
        Optional<String> text =
            without(within(others(known, name), name.atoms()), side, name.atoms(), name.text());
        if (text.isPresent()) {
          return text;
        }
      }
    }
    return Optional.empty();
  }

  private static List<Name> others(List<Name> known, Name name) {
    return known.stream().filter(other -> other != name).toList();
  }

  /** The same names for what they have in common with a set. */
  private static List<Name> within(List<Name> known, IndexSet set) {
    return known.stream()
        .map(name -> new Name(name.text(), name.atoms().intersect(set), name.size()))
        .filter(name -> !name.atoms().isEmpty())
        .toList();
  }
}
