package ironsieve.impact;

import ironsieve.compile.CompiledRule;
import ironsieve.compile.CompiledRulebase;
import ironsieve.compile.Dimension;
import ironsieve.compile.Names;
import ironsieve.compile.Space;
import ironsieve.compile.Spelling;
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
import java.util.function.Predicate;

/**
 * Names for sets of atoms, in the words the rulebase itself uses: a set is said as a union of
 * values, as one value without some others, with what is left over written out, and only where that
 * would be too much to read by an example and that it stands for more.
 */
final class Vocabulary {

  private static final String ADDRESSES_OF = "the addresses of ";
  private static final String BUT_NOT = " but not ";
  private static final int MOST_WORDS = 6;
  private static final int MOST_PIECES = 8;
  private static final int FEW = 2;
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

  /** A value, all that it stands for, and what of that is asked about. */
  private record Name(String text, IndexSet atoms, IndexSet within, int size) {}

  /**
   * Words for one side of a box.
   *
   * @param atoms all that the words stand for, whatever the IP version and time
   * @param isExact whether that is the side and nothing else, where there can be connections
   */
  record Side(String text, IndexSet atoms, boolean isExact) {}

  private final Space space;
  private final Predicate<String> isLastResort;
  private final Spelling spelling;
  private final List<List<Name>> names = new ArrayList<>();

  /**
   * The words of these rulebases.
   *
   * @param rules the ids of the rules whose words to use; what rules share is used in any case
   * @param isLastResort whether a word is used only where nothing else says the same
   */
  Vocabulary(
      Space space,
      List<CompiledRulebase> rulebases,
      Set<String> rules,
      Predicate<String> isLastResort) {
    this.space = space;
    this.isLastResort = isLastResort;
    spelling = space.spelling();
    List<List<Rule>> worded = rulebases.stream().map(rulebase -> worded(rulebase, rules)).toList();
    for (Dimension dimension : Dimension.values()) {
      Map<String, IndexSet> found = new LinkedHashMap<>();
      for (FieldName field : dimension.fields()) {
        zones(field, rulebases.get(0).names(), found);
        for (int i = 0; i < rulebases.size(); i++) {
          CompiledRulebase rulebase = rulebases.get(i);
          worded.get(i).forEach(rule -> values(field, rule.match(), rulebase.names(), found));
          rulebase
              .rulebase()
              .parts()
              .decryption()
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
      found.forEach((text, atoms) -> sorted.add(new Name(text, atoms, atoms, atoms.count())));
      sorted.sort(Comparator.comparing(Name::size).reversed());
      names.add(sorted);
    }
  }

  private static List<Rule> worded(CompiledRulebase rulebase, Set<String> ids) {
    List<Rule> found = new ArrayList<>();
    for (CompiledRule rule : rulebase.rules()) {
      if (ids.contains(rule.rule().id())) {
        found.add(rule.rule());
      }
    }
    return found;
  }

  private void zones(FieldName field, Names names, Map<String, IndexSet> found) {
    if (field == FieldName.FROM_ZONES || field == FieldName.TO_ZONES) {
      for (Zone zone : space.environment().zones()) {
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
      String text = byAddressOnly(field, value, names) ? ADDRESSES_OF : "";
      found.merge(text + ValueText.print(value), atoms, (a, b) -> a.equals(b) ? a : IndexSet.EMPTY);
    }
  }

  /** A host name as a destination is more than its addresses; here only these are meant. */
  private static boolean byAddressOnly(FieldName field, Value value, Names names) {
    return field == FieldName.TO_NETWORKS
        && names.open(field.kind(), value).stream().anyMatch(Value.HostObject.class::isInstance);
  }

  /** What a side is of, in words. */
  static String part(Dimension dimension) {
    return PARTS.get(dimension);
  }

  /**
   * The words for one side of a box.
   *
   * @param whole the atoms that count as "any" here
   * @param example how a member reads
   * @return nothing where the side is all of {@code whole}
   */
  Optional<Side> say(Dimension dimension, IndexSet side, IndexSet whole, String example) {
    if (side.containsAll(whole)) {
      return Optional.empty();
    }
    String comma = dimension == Dimension.DEVICE ? "; " : ", ";
    List<Name> known = within(names.get(dimension.ordinal()), whole);
    IndexSet all = space.whole(dimension.ordinal());
    IndexSet rest = whole.minus(side);
    // What was meant by a name on one side only is said where nothing plainer says the same.
    List<Name> plain = known.stream().filter(name -> !isLastResort.test(name.text())).toList();
    // What has an exception itself is no exception of anything: nobody could tell whose it is.
    List<Name> simple = known.stream().filter(name -> !name.text().contains(BUT_NOT)).toList();
    return union(plain, side)
        .map(said -> exactly(said.text(comma), said.atoms()))
        .or(() -> plain.size() < known.size() ? fewPeople(dimension, side) : Optional.empty())
        .or(() -> union(known, side).map(said -> exactly(said.text(comma), said.atoms())))
        .or(
            () ->
                union(simple, rest)
                    .map(
                        said ->
                            exactly("anything but " + said.text(comma), all.minus(said.atoms()))))
        .or(() -> insideOne(simple, side, comma))
        .or(
            () ->
                spelled(dimension, known, side, whole).map(s -> exactly(s.text(comma), s.atoms())))
        .or(
            () ->
                spelled(dimension, simple, rest, whole)
                    .map(
                        said ->
                            exactly("anything but " + said.text(comma), all.minus(said.atoms()))))
        .or(() -> Optional.of(new Side("some, such as " + example, side, false)));
  }

  /** One or two people are known better by name than as what two groups differ by. */
  private Optional<Side> fewPeople(Dimension dimension, IndexSet side) {
    return dimension == Dimension.PERSON
        ? spelling
            .logins(side, FEW)
            .map(
                pieces -> {
                  IndexSet atoms = IndexSet.EMPTY;
                  List<String> words = new ArrayList<>();
                  for (Spelling.Piece piece : pieces) {
                    words.add(piece.text());
                    atoms = atoms.union(piece.atoms());
                  }
                  return exactly(String.join(", ", words), atoms);
                })
        : Optional.empty();
  }

  private static Side exactly(String text, IndexSet atoms) {
    return new Side(text, atoms, true);
  }

  /** Values whose union is said. */
  private record Wording(List<String> words, IndexSet atoms) {

    private String text(String comma) {
      boolean bracketed = words.stream().anyMatch(word -> word.contains(BUT_NOT));
      return String.join(bracketed ? "; " : comma, words);
    }
  }

  /** The side as a union of values, if they make it up exactly. */
  private Optional<Wording> union(List<Name> known, IndexSet side) {
    Wording said = greedy(known, side, MOST_WORDS);
    return side.minus(said.atoms()).isEmpty() && !said.words().isEmpty()
        ? Optional.of(said)
        : Optional.empty();
  }

  private Wording greedy(List<Name> known, IndexSet side, int most) {
    List<String> words = new ArrayList<>();
    IndexSet left = side;
    IndexSet meant = IndexSet.EMPTY;
    for (Name name : known) {
      if (words.size() < most
          && !name.within().isEmpty()
          && side.containsAll(name.within())
          && left.intersects(name.within())) {
        words.add(name.text());
        left = left.minus(name.within());
        meant = meant.union(name.atoms());
      }
    }
    return new Wording(words, meant);
  }

  /** As far as values go in their own words, and what is left over written out. */
  private Optional<Wording> spelled(
      Dimension dimension, List<Name> known, IndexSet side, IndexSet whole) {
    Wording begun = greedy(known, side, MOST_WORDS);
    Optional<Wording> finished = finished(dimension, begun, side, whole);
    return finished.isPresent()
        ? finished
        : finished(dimension, new Wording(List.of(), IndexSet.EMPTY), side, whole);
  }

  private Optional<Wording> finished(
      Dimension dimension, Wording begun, IndexSet side, IndexSet whole) {
    IndexSet left = side.minus(begun.atoms());
    if (left.isEmpty()) {
      return Optional.of(begun).filter(said -> !said.words().isEmpty());
    }
    return spelling
        .of(dimension, left, whole, MOST_PIECES - begun.words().size())
        .map(
            pieces -> {
              List<String> words = new ArrayList<>(begun.words());
              IndexSet atoms = begun.atoms();
              for (Spelling.Piece piece : pieces) {
                words.add(piece.text());
                atoms = atoms.union(piece.atoms());
              }
              return new Wording(words, atoms);
            });
  }

  /** The side as the smallest value that holds it, without others. */
  private Optional<Side> insideOne(List<Name> known, IndexSet side, String comma) {
    for (int i = known.size() - 1; i >= 0; i--) {
      Name name = known.get(i);
      if (name.within().containsAll(side)) {
        Optional<Side> text =
            union(within(others(known, name), name.within()), name.within().minus(side))
                .map(
                    rest ->
                        exactly(
                            name.text() + BUT_NOT + rest.text(comma),
                            name.atoms().minus(rest.atoms())));
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
        .map(name -> new Name(name.text(), name.atoms(), name.within().intersect(set), name.size()))
        .filter(name -> !name.within().isEmpty())
        .toList();
  }
}
