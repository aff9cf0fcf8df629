package ironsieve.review;

import ironsieve.compile.CompiledEdit;
import ironsieve.compile.CompiledRule;
import ironsieve.compile.CompiledRulebase;
import ironsieve.compile.Dimension;
import ironsieve.model.Connection;
import ironsieve.model.DecryptionRule;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.Rule;
import ironsieve.model.RuleMetadata;
import ironsieve.model.Rulebase;
import ironsieve.model.Value;
import ironsieve.model.Verdict;
import ironsieve.model.Zone;
import ironsieve.region.Address;
import ironsieve.region.IndexSet;
import ironsieve.region.Range;
import ironsieve.region.Region;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Which edits would end a finding. */
public final class Remedies {

  private final CompiledRulebase compiled;
  private final Rulebase rulebase;
  private final Review review;
  private final Map<String, Integer> places = new HashMap<>();
  private final Map<String, Rule> rules = new HashMap<>();

  /** Remedies for the findings of a review of this rulebase. */
  public Remedies(CompiledRulebase compiled, Review review) {
    this.compiled = compiled;
    this.rulebase = compiled.rulebase();
    this.review = review;
    for (Rule rule : rulebase.rules()) {
      places.put(rule.id(), places.size());
      rules.put(rule.id(), rule);
    }
  }

  /** The sensible edits, the most likely first; none for what is normal or undetermined. */
  public List<Remedy> of(Finding finding) {
    Rule rule = rules.get(finding.rule());
    List<Remedy> remedies = new ArrayList<>();
    switch (finding.kind()) {
      case SHADOWED -> {
        moveAbove(finding).ifPresent(remedies::add);
        // Where a part of what it is to stop is let through, without it that would stay so.
        if (!isLetThroughAbove(rule)) {
          remedies.add(remove(finding));
        }
      }
      case PARTLY_SHADOWED -> {
        if (finding.severity() != Finding.Severity.QUIET) {
          narrow(rule, finding).ifPresent(remedies::add);
          split(rule, finding).ifPresent(remedies::add);
          moveAbove(finding).ifPresent(remedies::add);
        }
      }
      case REDUNDANT -> {
        mergeInto(rule, finding).ifPresent(remedies::add);
        remedies.add(remove(finding));
      }
      case UNKNOWN_NAME -> withoutUnknown(rule).ifPresent(remedies::add);
      case EMPTY, UNUSED -> {
        remedies.add(switchOff(rule));
        remedies.add(remove(finding));
      }
      case BLIND_FEATURE -> {
        remedies.add(decrypt(rule));
        if (finding.severity() == Finding.Severity.ERROR) {
          remedies.add(remove(finding));
        }
      }
      case MISSING_DEPENDENCY -> allowNeeded(rule, finding).ifPresent(remedies::add);
      case NO_LIMITS -> laySheet(rule).ifPresent(remedies::add);
      case LOCK_OUT -> backup(rule, finding).ifPresent(remedies::add);
      case UNLOGGED -> remedies.add(logged(rule));
      case EXCEPTION,
          ORDER_MATTERS,
          LEAKS_FIRST,
          OVERPROMISED,
          OVERDUE,
          UNNOTED,
          TOO_WIDE,
          UNDETERMINED -> {
        // Normal, or for a person to judge.
      }
    }
    return remedies;
  }

  /**
   * What a single rule above takes is said in the rule itself: where the two differ in one field
   * only, that field says anything but what the other has. No verdict changes by it.
   */
  private Optional<Remedy> narrow(Rule rule, Finding finding) {
    List<Rule> takers =
        review.residue(finding.rule()).takers().stream()
            .filter(taker -> taker.otherwise().isPresent())
            .map(taker -> rules.get(taker.rule()))
            .toList();
    if (takers.size() != 1 || takers.get(0).match().ports() == Rule.Ports.USUAL) {
      return Optional.empty();
    }
    List<FieldName> narrowing =
        takers.get(0).match().fields().keySet().stream()
            .filter(name -> narrows(name, takers.get(0), rule))
            .toList();
    if (narrowing.size() != 1 || rule.match().field(narrowing.get(0)).isPresent()) {
      return Optional.empty();
    }
    FieldName name = narrowing.get(0);
    Field taken = takers.get(0).match().field(name).orElseThrow();
    Field rest =
        new Field(
            taken.sense() == Field.Sense.IS ? Field.Sense.IS_NOT : Field.Sense.IS, taken.values());
    Rule.Match narrow = rule.match().with(name, rest);
    Region left = claim(rule.match()).minus(claim(takers.get(0).match()));
    // A name or encryption may tie fields together; then one field alone cannot say what is left.
    if (!left.containsAll(claim(narrow)) || !claim(narrow).containsAll(left)) {
      return Optional.empty();
    }
    Rule narrowed =
        new Rule(rule.id(), rule.name(), rule.state(), narrow, rule.then(), rule.metadata());
    return Optional.of(
        new Remedy(
            new Edit.Replace(narrowed),
            "Narrow it to what is left: "
                + name.label()
                + " "
                + ironsieve.text.ValueText.print(rest)));
  }

  /**
   * Where only some values of a field meet the rules that take from it, those values go above the
   * topmost of these rules and the others stay. That moves less than moving the whole rule.
   */
  private Optional<Remedy> split(Rule rule, Finding finding) {
    List<Residue.Taker> takers =
        review.residue(finding.rule()).takers().stream()
            .filter(taker -> taker.otherwise().isPresent())
            .toList();
    Optional<String> target =
        takers.stream().map(Residue.Taker::rule).min(java.util.Comparator.comparing(places::get));
    for (Map.Entry<FieldName, Field> entry : rule.match().fields().entrySet()) {
      Field field = entry.getValue();
      if (target.isEmpty() || field.sense() == Field.Sense.IS_NOT || field.values().size() < 2) {
        continue;
      }
      List<Value> met = new ArrayList<>();
      List<Value> clear = new ArrayList<>();
      for (Value value : field.values()) {
        Region claim = claim(rule.match().with(entry.getKey(), Field.is(value)));
        boolean meets =
            takers.stream()
                .anyMatch(
                    taker -> !claim.intersect(claim(rules.get(taker.rule()).match())).isEmpty());
        (meets ? met : clear).add(value);
      }
      if (!met.isEmpty() && !clear.isEmpty()) {
        return Optional.of(split(rule, entry.getKey(), met, clear, target.get()));
      }
    }
    return Optional.empty();
  }

  private Remedy split(
      Rule rule, FieldName name, List<Value> met, List<Value> clear, String target) {
    Rule part = with(rule, rule.id() + "-part", new Field(Field.Sense.IS, met), name);
    Rule left = with(rule, rule.id(), new Field(Field.Sense.IS, clear), name);
    String values = ironsieve.text.ValueText.print(new Field(Field.Sense.IS, met));
    return new Remedy(
        new Edit.Split(left, part, target),
        "Split it: " + name.label() + " " + values + " above rule " + (places.get(target) + 1));
  }

  private static Rule with(Rule rule, String id, Field field, FieldName name) {
    return new Rule(
        id,
        rule.name(),
        rule.state(),
        rule.match().with(name, field),
        rule.then(),
        rule.metadata());
  }

  private Region claim(Rule.Match match) {
    return Region.of(compiled.matchCompiler().claim(match));
  }

  private boolean narrows(FieldName name, Rule taker, Rule rule) {
    Field field = taker.match().field(name).orElseThrow();
    int dimension = Dimension.of(name).ordinal();
    IndexSet mine = compiled.space().whole(dimension);
    for (FieldName tied : Dimension.of(name).fields()) {
      Optional<Field> own = rule.match().field(tied);
      if (own.isPresent()) {
        mine = mine.intersect(compiled.space().side(tied, own.get(), compiled.names()));
      }
    }
    return !compiled.space().side(name, field, compiled.names()).containsAll(mine);
  }

  /** Without the names that stand for nothing, where those left say the same. */
  private Optional<Remedy> withoutUnknown(Rule rule) {
    Map<FieldName, Field> fields = new EnumMap<>(FieldName.class);
    for (Map.Entry<FieldName, Field> entry : rule.match().fields().entrySet()) {
      FieldName name = entry.getKey();
      List<Value> known =
          entry.getValue().values().stream()
              .filter(value -> compiled.names().unknown(name.kind(), value).isEmpty())
              .toList();
      if (!known.isEmpty()) {
        fields.put(name, new Field(entry.getValue().sense(), known));
      } else if (entry.getValue().sense() == Field.Sense.IS) {
        return Optional.empty();
      }
    }
    Rule without =
        new Rule(
            rule.id(),
            rule.name(),
            rule.state(),
            new Rule.Match(fields, rule.match().ports()),
            rule.then(),
            rule.metadata());
    // What a set or a sheet names is not said in the rule, so it is not mended there.
    return UnknownNames.check(without, compiled.names()).isPresent()
        ? Optional.empty()
        : Optional.of(new Remedy(new Edit.Replace(without), "Take the unknown names out of it"));
  }

  private static Remedy switchOff(Rule rule) {
    Rule off =
        new Rule(
            rule.id(), rule.name(), Rule.State.OFF, rule.match(), rule.then(), rule.metadata());
    return new Remedy(new Edit.Replace(off), "Switch it off");
  }

  /** Whatever the rule is about but cannot see is opened: its own fields, up to the host name. */
  private static Remedy decrypt(Rule rule) {
    Map<FieldName, Field> fields = new EnumMap<>(FieldName.class);
    fields.putAll(rule.match().fields());
    fields.remove(FieldName.APPLICATIONS);
    DecryptionRule line =
        new DecryptionRule(
            "for-" + rule.id(),
            new Rule.Match(fields, Rule.Ports.ANY),
            DecryptionRule.Decision.DECRYPT,
            "So that rule " + rule.id() + " sees what it is to match.");
    return new Remedy(new Edit.Decrypt(line), "Open the content there");
  }

  /**
   * The same people and places, and what is needed instead, on its usual ports; above the topmost
   * rule that would stop it, for below that one it would let nothing through.
   */
  private Optional<Remedy> allowNeeded(Rule rule, Finding finding) {
    List<String> needed =
        finding.evidence().stream()
            .flatMap(evidence -> evidence.witness().connection().using().application().stream())
            .distinct()
            .toList();
    Map<FieldName, Field> fields = new EnumMap<>(FieldName.class);
    fields.putAll(rule.match().fields());
    List.of(FieldName.SERVICES, FieldName.TO_SITES, FieldName.APPLICATIONS).forEach(fields::remove);
    List<Value> applications = new ArrayList<>();
    needed.forEach(name -> applications.add(new Value.ApplicationName(name)));
    fields.put(FieldName.APPLICATIONS, new Field(Field.Sense.IS, applications));
    Rule added =
        new Rule(
            rule.id() + "-needs",
            "What " + (rule.name().isEmpty() ? "the rule below" : rule.name()) + " needs",
            Rule.State.ON,
            new Rule.Match(fields, Rule.Ports.USUAL),
            new Rule.Then(Verdict.ALLOW, rule.then().logging()),
            "Needed by rule " + rule.id() + ".");
    return addedAbove(finding, added, rule.id(), "Allow " + String.join(", ", needed) + " too");
  }

  /**
   * A rule that lets something through, above the first of those down to another that stop it;
   * nothing if the review of what that makes still has the finding.
   */
  private Optional<Remedy> addedAbove(Finding finding, Rule added, String below, String words) {
    // Only over a space that knows what the added rule speaks of is its claim exact.
    CompiledEdit lowest = added(added, below);
    CompiledRulebase after = lowest.after();
    CompiledRule mine = after.rule(added.id()).orElseThrow();
    String target =
        mine.boxes().stream()
            .flatMap(box -> after.rulesMeeting(box, mine.index()).stream())
            .sorted()
            .map(number -> after.rules().get(number).rule())
            .filter(rule -> !rule.then().verdict().passes())
            .findFirst()
            .map(Rule::id)
            .orElse(below);
    boolean isLowest = target.equals(below);
    Review next = Reviewer.again(review, isLowest ? lowest : added(added, target));
    // A lock-out is of the whole rulebase, whichever rule it is told of.
    List<Finding> left =
        finding.kind() == Finding.Kind.LOCK_OUT ? next.findings() : next.of(finding.rule());
    return left.stream().anyMatch(one -> one.kind() == finding.kind())
        ? Optional.empty()
        : Optional.of(
            new Remedy(
                new Edit.InsertAbove(added, target),
                isLowest ? words : words + ", above rule " + (places.get(target) + 1)));
  }

  private CompiledEdit added(Rule added, String target) {
    return CompiledEdit.of(compiled, Edit.apply(rulebase, new Edit.InsertAbove(added, target)));
  }

  /** The first sheet that stops some of what the rule lets through to outside, if one does. */
  private Optional<Remedy> laySheet(Rule rule) {
    if (rule.then().verdict() != Verdict.ALLOW) {
      return Optional.empty();
    }
    return rulebase.parts().sheets().stream()
        .map(
            sheet ->
                new Remedy(
                    new Edit.Replace(
                        with(
                            rule,
                            new Rule.Then(
                                rule.then().outcome(),
                                rule.then().logging(),
                                Optional.of(sheet.name())))),
                    "Lay sheet " + sheet.name() + " under it"))
        .filter(remedy -> ends(remedy, rule.id(), Finding.Kind.NO_LIMITS))
        .findFirst();
  }

  private boolean ends(Remedy remedy, String rule, Finding.Kind kind) {
    CompiledEdit edit = CompiledEdit.of(compiled, Edit.apply(rulebase, remedy.edit()));
    return Reviewer.again(review, edit).of(rule).stream().noneMatch(left -> left.kind() == kind);
  }

  /** Whether a rule that stops is shadowed by one that lets some of it through. */
  private boolean isLetThroughAbove(Rule rule) {
    return !rule.then().verdict().passes()
        && review.residue(rule.id()).takers().stream()
            .anyMatch(taker -> taker.otherwise().isPresent() && taker.verdict().passes());
  }

  /**
   * The same for whoever is at the one address the witness came from, and only to the gateway, on
   * the port it is administered by.
   */
  private Optional<Remedy> backup(Rule rule, Finding finding) {
    if (!rule.then().verdict().passes()) {
      return Optional.empty();
    }
    Connection witness = finding.evidence().get(0).witness().connection();
    Address address = witness.from().place().address();
    Map<FieldName, Field> fields = new EnumMap<>(FieldName.class);
    fields.putAll(rule.match().fields());
    fields.remove(FieldName.PEOPLE);
    fields.put(FieldName.FROM_NETWORKS, Field.is(new Value.Network(new Range<>(address, address))));
    List<Value> gateways =
        compiled.space().environment().zones().stream()
            .filter(zone -> zone.side() == Zone.Side.GATEWAY)
            .map(zone -> (Value) new Value.ZoneName(zone.name()))
            .toList();
    fields.put(FieldName.TO_ZONES, new Field(Field.Sense.IS, gateways));
    fields.put(
        FieldName.SERVICES, Field.is(new Value.ServiceRange(witness.service(), witness.service())));
    Rule added =
        new Rule(
            rule.id() + "-backup",
            "In case nobody is known",
            Rule.State.ON,
            new Rule.Match(fields, rule.match().ports()),
            rule.then(),
            "Backup by address for rule " + rule.id() + "; put the right desk here.");
    String words = "Add a backup rule from " + address + " to the gateway only";
    return addedAbove(finding, added, rule.id(), words);
  }

  private static Remedy logged(Rule rule) {
    Rule.Then then = new Rule.Then(rule.then().outcome(), Rule.Logging.LOGGED, rule.then().sheet());
    return new Remedy(new Edit.Replace(with(rule, then)), "Log what it catches");
  }

  private static Rule with(Rule rule, Rule.Then then) {
    return new Rule(rule.id(), rule.name(), rule.state(), rule.match(), then, rule.metadata());
  }

  /**
   * Above the topmost rule that takes from it and decides otherwise, only rules that decide the
   * same take from it, so there it can be neither shadowed nor partly shadowed. Where takers are
   * only estimated, one may have been missed; then the next review will say so.
   */
  private Optional<Remedy> moveAbove(Finding finding) {
    return review.residue(finding.rule()).takers().stream()
        .filter(taker -> taker.otherwise().isPresent())
        .map(Residue.Taker::rule)
        .min(java.util.Comparator.comparing(places::get))
        .map(
            target ->
                new Remedy(
                    new Edit.MoveAbove(finding.rule(), target),
                    "Move it above rule " + (places.get(target) + 1)));
  }

  /**
   * Where one other rule decides all of it the same way, that one can take over what was written
   * down about this one.
   */
  private Optional<Remedy> mergeInto(Rule rule, Finding finding) {
    List<Rule> others =
        finding.evidence().stream()
            .flatMap(evidence -> Optional.ofNullable(rules.get(evidence.rule())).stream())
            .toList();
    if (others.size() != 1) {
      return Optional.empty();
    }
    Rule into = others.get(0);
    if (!claim(rule.match()).minus(claim(into.match())).isEmpty()) {
      return Optional.empty();
    }
    RuleMetadata kept =
        into.metadata().with(rule.metadata(), rule.name().isEmpty() ? rule.id() : rule.name());
    if (kept.equals(into.metadata())) {
      return Optional.empty();
    }
    Rule merged = new Rule(into.id(), into.name(), into.state(), into.match(), into.then(), kept);
    return Optional.of(
        new Remedy(
            new Edit.Merge(merged, rule.id()),
            "Merge it into rule " + (places.get(into.id()) + 1) + ", which keeps its notes"));
  }

  private static Remedy remove(Finding finding) {
    return new Remedy(new Edit.Remove(finding.rule()), "Remove it");
  }
}
