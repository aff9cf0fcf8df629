package ironsieve.compile;

import ironsieve.model.DecryptionRule;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.Outcome;
import ironsieve.model.Rule;
import ironsieve.model.UsageSheet;
import ironsieve.model.Value;
import ironsieve.model.Verdict;
import ironsieve.region.Box;
import ironsieve.region.IndexSet;
import ironsieve.region.Region;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * Turns what one rulebase says into boxes over a space. A claim is about what connections really
 * are; where a gateway cannot see a feature, because it travels encrypted and nothing opens, no
 * rule that tells features apart claims the connection.
 */
public final class MatchCompiler {

  private static final int USING = Dimension.USING.ordinal();
  private static final int SERVICE = Dimension.SERVICE.ordinal();
  private static final int SITE = Dimension.SITE.ordinal();
  private static final int TO = Dimension.TO.ordinal();

  /** A part of a claim and what happens to it. */
  private record Piece(Box box, Outcome outcome) {}

  private final Space space;
  private final Names names;
  private final List<IndexSet> encryptedGroups;
  private final List<Box> opened;
  private final List<Box> encrypted;

  MatchCompiler(Space space, Names names) {
    this.space = space;
    this.names = names;
    encryptedGroups = space.uses().encryptedGroups();
    Region all = Region.of(List.copyOf(space.versions()));
    Region open = Region.EMPTY;
    Region left = all;
    for (DecryptionRule line : names.parts().decryption()) {
      Region held = Region.of(products(line.match()));
      if (line.decision() == DecryptionRule.Decision.DECRYPT) {
        open = open.union(left.intersect(held));
      }
      left = left.minus(held);
    }
    opened = open.boxes();
    encrypted = all.minus(open).boxes();
  }

  Space space() {
    return space;
  }

  Names names() {
    return names;
  }

  /** Whether encrypted content is decrypted for a connection at this point. */
  public boolean decrypts(int[] point) {
    return opened.stream().anyMatch(box -> box.contains(point));
  }

  /**
   * The claim of a match as non-empty, disjoint boxes, past times included: apart for each IP
   * version, with usual ports for each group of applications that share theirs, and for what is
   * seen only where content is opened.
   */
  public List<Box> claim(Rule.Match match) {
    List<Box> boxes = new ArrayList<>();
    for (Box box : products(match)) {
      boxes.addAll(seen(box));
    }
    return boxes;
  }

  /**
   * What a match would claim if nothing stayed encrypted, and does not because it tells features
   * apart; disjoint boxes.
   */
  public List<Box> unseen(Rule.Match match) {
    List<Box> unseen = new ArrayList<>();
    for (Box box : products(match)) {
      IndexSet hidden = hidden(box.side(USING));
      for (Box shut : hidden.isEmpty() ? List.<Box>of() : encrypted) {
        Box part = box.with(USING, hidden).intersect(shut);
        if (!part.isEmpty()) {
          unseen.add(part);
        }
      }
    }
    return unseen;
  }

  /** A rule with its claim, and what happens to each part of it. */
  CompiledRule compiled(int index, Rule rule) {
    List<Piece> pieces = pieces(rule);
    return new CompiledRule(
        index,
        rule,
        pieces.stream().map(Piece::box).toList(),
        pieces.stream().map(Piece::outcome).toList());
  }

  private List<Piece> pieces(Rule rule) {
    List<Box> claim = claim(rule.match());
    Optional<UsageSheet> sheet = rule.then().sheet().flatMap(names::sheet);
    if (sheet.isEmpty()) {
      return claim.stream().map(box -> new Piece(box, rule.then().outcome())).toList();
    }
    Map<Outcome, IndexSet> seen = outcomes(sheet.get(), 3, rule.then().outcome());
    Map<Outcome, IndexSet> unseen = outcomes(sheet.get(), 2, rule.then().outcome());
    IndexSet insideEncrypted = IndexSet.EMPTY;
    for (IndexSet group : encryptedGroups) {
      insideEncrypted = insideEncrypted.union(group);
    }
    List<Piece> pieces = new ArrayList<>();
    for (Box box : claim) {
      for (Map.Entry<Outcome, IndexSet> entry : seen.entrySet()) {
        IndexSet unlessEncrypted = entry.getValue();
        IndexSet anyhow = unseen.getOrDefault(entry.getKey(), IndexSet.EMPTY);
        IndexSet hidden = unlessEncrypted.intersect(insideEncrypted).minus(anyhow);
        add(pieces, box, unlessEncrypted.minus(hidden), entry.getKey());
        for (Box open : hidden.isEmpty() ? List.<Box>of() : opened) {
          add(pieces, box.intersect(open), hidden, entry.getKey());
        }
      }
      for (Map.Entry<Outcome, IndexSet> entry : unseen.entrySet()) {
        IndexSet other = seen.getOrDefault(entry.getKey(), IndexSet.EMPTY);
        IndexSet onlyEncrypted = entry.getValue().intersect(insideEncrypted).minus(other);
        for (Box shut : onlyEncrypted.isEmpty() ? List.<Box>of() : encrypted) {
          add(pieces, box.intersect(shut), onlyEncrypted, entry.getKey());
        }
      }
    }
    return pieces;
  }

  private static void add(List<Piece> pieces, Box box, IndexSet using, Outcome outcome) {
    Box part = box.with(USING, box.side(USING).intersect(using));
    if (!part.isEmpty()) {
      pieces.add(new Piece(part, outcome));
    }
  }

  /** For each outcome the atoms a sheet gives it, with lines up to a rank. */
  private Map<Outcome, IndexSet> outcomes(UsageSheet sheet, int highest, Outcome ofRule) {
    Map<Outcome, IndexSet> found = new LinkedHashMap<>();
    IndexSet left = space.whole(USING);
    for (int rank = highest; rank >= 0; rank--) {
      for (UsageSheet.Line line : sheet.lines()) {
        if (line.rank() == rank) {
          IndexSet atoms = space.uses().atoms(line.about()).intersect(left);
          found.merge(inside(line.outcome(), ofRule), atoms, IndexSet::union);
          left = left.minus(atoms);
        }
      }
    }
    found.merge(inside(sheet.otherwise(), ofRule), left, IndexSet::union);
    return found;
  }

  /** A sheet's bare allow leaves a connection in the lane of its rule. */
  public static Outcome inside(Outcome ofSheet, Outcome ofRule) {
    return ofSheet.equals(Outcome.of(Verdict.ALLOW)) ? ofRule : ofSheet;
  }

  /** A box without what the gateway cannot see there. */
  private List<Box> seen(Box box) {
    IndexSet using = box.side(USING);
    IndexSet hidden = hidden(using);
    if (hidden.isEmpty()) {
      return List.of(box);
    }
    List<Box> parts = new ArrayList<>();
    Box visible = box.with(USING, using.minus(hidden));
    if (!visible.isEmpty()) {
      parts.add(visible);
    }
    for (Box open : opened) {
      Box part = box.with(USING, hidden).intersect(open);
      if (!part.isEmpty()) {
        parts.add(part);
      }
    }
    return parts;
  }

  /** The atoms of a set that nobody can tell from others outside it without decrypting. */
  private IndexSet hidden(IndexSet using) {
    IndexSet hidden = IndexSet.EMPTY;
    for (IndexSet group : encryptedGroups) {
      if (using.intersects(group) && !using.containsAll(group)) {
        hidden = hidden.union(using.intersect(group));
      }
    }
    return hidden;
  }

  /** The boxes of a match before asking what can be seen. */
  private List<Box> products(Rule.Match match) {
    List<Box> boxes = new ArrayList<>();
    for (Box product : destinations(match, product(match))) {
      for (Box version : space.versions()) {
        Box part = product.intersect(version);
        if (part.isEmpty()) {
          continue;
        }
        if (match.ports() == Rule.Ports.ANY) {
          boxes.addAll(onTheirServices(part, match));
        } else {
          space.uses().portClasses().stream()
              .map(ports -> narrowed(part, ports))
              .filter(box -> !box.isEmpty())
              .forEach(boxes::add);
        }
      }
    }
    return boxes;
  }

  /** Where values bring services of their own, apart for all that bring the same. */
  private List<Box> onTheirServices(Box box, Rule.Match match) {
    Map<List<Value.ServiceRange>, IndexSet> byServices = new LinkedHashMap<>();
    boolean any = false;
    for (Value value : match.field(FieldName.APPLICATIONS).map(Field::values).orElse(List.of())) {
      boolean bringsOwn = value instanceof Value.ApplicationOver over && !over.services().isEmpty();
      any |= bringsOwn;
      List<Value.ServiceRange> services =
          bringsOwn ? ((Value.ApplicationOver) value).services() : List.of();
      IndexSet atoms = space.side(FieldName.APPLICATIONS, Field.is(value), names);
      byServices.merge(services, atoms, IndexSet::union);
    }
    if (!any) {
      return List.of(box);
    }
    return byServices.entrySet().stream()
        .map(entry -> narrowed(box, new UsingAxis.PortClass(entry.getKey(), entry.getValue())))
        .filter(part -> !part.isEmpty())
        .toList();
  }

  /** All fields but the destination's networks. */
  private Box product(Rule.Match match) {
    Box product = space.everything();
    for (Map.Entry<FieldName, Field> entry : match.fields().entrySet()) {
      if (entry.getKey() != FieldName.TO_NETWORKS) {
        int dimension = Dimension.of(entry.getKey()).ordinal();
        IndexSet side = space.side(entry.getKey(), entry.getValue(), names);
        product = product.with(dimension, product.side(dimension).intersect(side));
      }
    }
    return product;
  }

  /**
   * A host name object as a destination is an address or a name asked for, so the field is one box
   * by address and, for all other addresses, one by name.
   */
  private List<Box> destinations(Rule.Match match, Box product) {
    Optional<Field> field = match.field(FieldName.TO_NETWORKS);
    if (field.isEmpty()) {
      return List.of(product);
    }
    IndexSet byAddress = space.side(FieldName.TO_NETWORKS, positive(field.get()), names);
    IndexSet byName = IndexSet.EMPTY;
    for (Value value : names.open(FieldName.TO_NETWORKS, field.get())) {
      if (value instanceof Value.HostObject host) {
        byName = byName.union(space.site(Space.named(host)));
      }
    }
    IndexSet to = product.side(TO);
    Box elsewhere = product.with(TO, to.minus(byAddress));
    if (field.get().sense() == Field.Sense.IS_NOT) {
      return List.of(elsewhere.with(SITE, product.side(SITE).minus(byName)));
    }
    Box there = product.with(TO, to.intersect(byAddress));
    return byName.isEmpty()
        ? List.of(there)
        : List.of(there, elsewhere.with(SITE, product.side(SITE).intersect(byName)));
  }

  private static Field positive(Field field) {
    return new Field(Field.Sense.IS, field.values());
  }

  private Box narrowed(Box box, UsingAxis.PortClass ports) {
    Box ofClass = box.with(USING, box.side(USING).intersect(ports.atoms()));
    if (ports.usualPorts().isEmpty()) {
      return ofClass;
    }
    IndexSet allowed = space.serviceAtoms(ports.usualPorts());
    return ofClass.with(SERVICE, ofClass.side(SERVICE).intersect(allowed));
  }
}
