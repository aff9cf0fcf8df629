package ironsieve;

import ironsieve.model.Chapter;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.Value;
import ironsieve.model.Verdict;
import ironsieve.text.ValueText;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import net.jqwik.api.Arbitraries;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.Combinators;

/** Rulebases for tests: small random ones, and short spellings of chosen ones. */
public final class Rulebases {

  private Rulebases() {}

  /** A random rulebase and the world it is about. */
  public record Case(World world, Rulebase rulebase) {}

  /** Random rulebases of up to this many rules over any world. */
  public static Arbitrary<Case> cases(int most) {
    return World.any()
        .flatMap(world -> random(world, most).map(rulebase -> new Case(world, rulebase)));
  }

  /** Random rulebases of up to this many rules over the {@link SmallWorld}. */
  public static Arbitrary<Rulebase> random(int most) {
    return random(SmallWorld.WORLD, most);
  }

  /** Random rulebases of up to this many rules over a world. */
  public static Arbitrary<Rulebase> random(World world, int most) {
    return Combinators.combine(
            rule(world).list().ofMinSize(1).ofMaxSize(most),
            world.parts(),
            Arbitraries.of(Verdict.ALLOW, Verdict.DENY))
        .as(
            (rules, parts, defaultVerdict) ->
                new Rulebase(
                    "test",
                    List.of(new Chapter("c", "All", "", numbered(rules))),
                    parts,
                    defaultVerdict));
  }

  private static Arbitrary<Rule> rule(World world) {
    Arbitrary<Map<FieldName, Field>> fields =
        Arbitraries.of(world.fields())
            .set()
            .ofMaxSize(3)
            .flatMap(
                names -> {
                  List<Arbitrary<Map.Entry<FieldName, Field>>> parts = new ArrayList<>();
                  names.forEach(name -> parts.add(field(world, name).map(f -> Map.entry(name, f))));
                  return Combinators.combine(parts)
                      .as(
                          entries -> {
                            Map<FieldName, Field> map = new EnumMap<>(FieldName.class);
                            entries.forEach(e -> map.put(e.getKey(), e.getValue()));
                            return map;
                          });
                });
    return Combinators.combine(
            fields,
            Arbitraries.frequency(
                net.jqwik.api.Tuple.of(5, Rule.Ports.ANY),
                net.jqwik.api.Tuple.of(1, Rule.Ports.USUAL)),
            world.thens(),
            Arbitraries.frequency(
                net.jqwik.api.Tuple.of(9, Rule.State.ON),
                net.jqwik.api.Tuple.of(1, Rule.State.OFF)))
        .as((map, ports, then, state) -> rule("", state, new Rule.Match(map, ports), then));
  }

  private static Arbitrary<Field> field(World world, FieldName name) {
    return Combinators.combine(
            Arbitraries.of(world.values().apply(name.kind())).set().ofMinSize(1).ofMaxSize(2),
            Arbitraries.frequency(
                net.jqwik.api.Tuple.of(4, Field.Sense.IS),
                net.jqwik.api.Tuple.of(1, Field.Sense.IS_NOT)))
        .as(
            (texts, sense) ->
                new Field(
                    sense, texts.stream().map(t -> ValueText.parse(name.kind(), t)).toList()));
  }

  private static Rule rule(String id, Rule.State state, Rule.Match match, Rule.Then then) {
    return new Rule(id, "", state, match, then, "");
  }

  private static List<Rule> numbered(List<Rule> rules) {
    List<Rule> numbered = new ArrayList<>();
    for (Rule rule : rules) {
      numbered.add(rule("r" + (numbered.size() + 1), rule.state(), rule.match(), rule.then()));
    }
    return numbered;
  }

  /** A rulebase of these rules, numbered r1, r2 … from the top. */
  public static Rulebase of(List<Rule> rules, Verdict defaultVerdict) {
    return new Rulebase(
        "test",
        List.of(new Chapter("c", "All", "", numbered(rules))),
        SmallWorld.sets(),
        defaultVerdict);
  }

  /** A rule from words: {@code allow from.zones=Inside|Outside using.services=tcp/80}. */
  public static Rule rule(String text) {
    String[] words = text.split(" (?=[a-z]+\\.)|$");
    Map<FieldName, Field> fields = new EnumMap<>(FieldName.class);
    for (int i = 1; i < words.length; i++) {
      String[] parts = words[i].split("=", 2);
      FieldName name = FieldName.ofKey(parts[0]);
      boolean not = parts[1].startsWith("!");
      List<Value> values = new ArrayList<>();
      for (String value : parts[1].substring(not ? 1 : 0).split("\\|")) {
        values.add(ValueText.parse(name.kind(), value));
      }
      fields.put(name, new Field(not ? Field.Sense.IS_NOT : Field.Sense.IS, values));
    }
    return rule(
        "",
        Rule.State.ON,
        new Rule.Match(fields, Rule.Ports.ANY),
        new Rule.Then(
            ironsieve.text.OutcomeText.parse(words[0].trim()),
            Rule.Logging.NOT_LOGGED,
            Optional.empty()));
  }

  /** A rulebase from lines as {@link #rule(String)} reads them, with a default verdict of deny. */
  public static Rulebase of(String... lines) {
    return of(java.util.Arrays.stream(lines).map(Rulebases::rule).toList(), Verdict.DENY);
  }
}
