package ironsieve.review;

import ironsieve.compile.CompiledRulebase;
import ironsieve.compile.Dimension;
import ironsieve.model.FieldName;
import ironsieve.model.Rule;
import ironsieve.region.Box;
import ironsieve.region.IndexSet;
import java.util.List;
import java.util.stream.Stream;

/** Finds which fields of a rule leave its claim without a connection. */
final class Emptiness {

  private Emptiness() {}

  /** The fewest fields that already clash; the rule's claim must be empty. */
  static List<FieldName> clash(Rule rule, CompiledRulebase compiled) {
    Rule.Match match = rule.match();
    for (FieldName name : match.fields().keySet()) {
      if (isEmpty(match, List.of(name), compiled)) {
        return List.of(name);
      }
    }
    List<FieldName> names = List.copyOf(match.fields().keySet());
    for (int i = 0; i < names.size(); i++) {
      for (int j = i + 1; j < names.size(); j++) {
        if (isEmpty(match, List.of(names.get(i), names.get(j)), compiled)) {
          return List.of(names.get(i), names.get(j));
        }
      }
    }
    return names;
  }

  private static boolean isEmpty(
      Rule.Match match, List<FieldName> kept, CompiledRulebase compiled) {
    Rule.Match part = new Rule.Match(java.util.Map.of(), portsIfHeld(match, kept));
    for (FieldName name : kept) {
      part = part.with(name, match.field(name).orElseThrow());
    }
    List<Box> claim = compiled.matchCompiler().claim(part);
    IndexSet ahead = compiled.space().ahead().get(0).side(Dimension.TIME.ordinal());
    return claim.stream()
        .flatMap(box -> Stream.of(box.side(Dimension.TIME.ordinal())))
        .noneMatch(ahead::intersects);
  }

  private static Rule.Ports portsIfHeld(Rule.Match match, List<FieldName> kept) {
    boolean both = kept.contains(FieldName.SERVICES) || kept.contains(FieldName.APPLICATIONS);
    return both ? match.ports() : Rule.Ports.ANY;
  }
}
