package ironsieve.impact;

import ironsieve.compile.Names;
import ironsieve.model.Catalogue;
import ironsieve.model.Chapter;
import ironsieve.model.Connection;
import ironsieve.model.Connection.Device;
import ironsieve.model.DecryptionRule;
import ironsieve.model.Environment;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.NamedSet;
import ironsieve.model.Parts;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.Value;
import ironsieve.model.ValueCases;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;

/** Reads rulebases and connections over two surroundings as they are at one moment. */
final class MomentReading {

  private static final ValueCases<MomentReading, List<Value>> MEANT =
      new ValueCases.Builder<MomentReading, List<Value>>()
          .on(Value.ZoneName.class, (at, zone) -> at.joint.zones().meant(zone, at.moment))
          .on(Value.CountryName.class, (at, one) -> at.joint.atlas().meant(one, at.moment))
          .on(Value.ListName.class, (at, list) -> at.joint.atlas().meant(list, at.moment))
          .on(Value.HostObject.class, (at, host) -> at.joint.atlas().meant(host, at.moment))
          .on(Value.SiteCategory.class, (at, one) -> at.joint.atlas().meant(one, at.moment))
          .on(Value.PersonName.class, (at, name) -> at.joint.people().meant(name, at.moment))
          .on(Value.GroupName.class, (at, group) -> at.joint.people().meant(group, at.moment))
          .on(Value.AttributeIs.class, (at, said) -> at.joint.people().meant(said, at.moment))
          .on(Value.Identity.class, (at, one) -> at.joint.people().meant(one, at.moment))
          .on(Value.DeviceClass.class, MomentReading::device)
          // These say the same whatever surrounds them; applications are read by edition.
          .on(
              List.of(
                  Value.SetName.class,
                  Value.Network.class,
                  Value.HostName.class,
                  Value.Nameless.class,
                  Value.ServiceRange.class,
                  Value.ApplicationName.class,
                  Value.FeatureName.class,
                  Value.ApplicationOver.class,
                  Value.FamilyName.class,
                  Value.CategoryName.class,
                  Value.Filter.class,
                  Value.Unrecognised.class,
                  Value.TimeSpan.class),
              (at, value) -> List.of(value))
          .table();

  private final BothSurroundings joint;
  private final Moment moment;
  private final Environment own;
  private final Environment all;

  MomentReading(BothSurroundings joint, Moment moment) {
    this.joint = joint;
    this.moment = moment;
    own = joint.change().at(moment);
    all = joint.together();
  }

  /** A rulebase as it is read at the moment. */
  Rulebase as(Rulebase rulebase) {
    List<Chapter> chapters = new ArrayList<>();
    for (Chapter chapter : rulebase.chapters()) {
      chapters.add(chapter.with(chapter.rules().stream().map(rule -> as(rule)).toList()));
    }
    Parts parts = rulebase.parts();
    Parts read =
        new Parts(
            sets(parts.sets()),
            parts.sheets(),
            parts.notices(),
            parts.lanes(),
            parts.decryption().stream().map(line -> as(line)).toList(),
            parts.capacity());
    Rulebase spelled = new Rulebase(rulebase.name(), chapters, read, rulebase.defaultVerdict());
    if (joint.change().sameCatalogue()) {
      return spelled;
    }
    Names names = new Names(read, all.with(own.catalogue()));
    return EditionReading.of(spelled, own.catalogue(), all.catalogue(), names);
  }

  /** Those of the rulebase, and those all share of which it has none of its own. */
  private List<NamedSet> sets(List<NamedSet> ofRulebase) {
    Map<List<Object>, NamedSet> byName = new LinkedHashMap<>();
    Stream.concat(own.sets().stream(), ofRulebase.stream())
        .forEach(set -> byName.put(List.of(set.kind(), set.name()), set));
    return byName.values().stream()
        .map(set -> new NamedSet(set.name(), set.kind(), values(set.values()), set.note()))
        .toList();
  }

  private Rule as(Rule rule) {
    Rule.Match match = as(rule.match());
    return match.equals(rule.match())
        ? rule
        : new Rule(rule.id(), rule.name(), rule.state(), match, rule.then(), rule.metadata());
  }

  private DecryptionRule as(DecryptionRule line) {
    return new DecryptionRule(line.id(), as(line.match()), line.decision(), line.note());
  }

  private Rule.Match as(Rule.Match match) {
    Map<FieldName, Field> fields = new EnumMap<>(FieldName.class);
    match
        .fields()
        .forEach(
            (name, field) -> fields.put(name, new Field(field.sense(), values(field.values()))));
    return new Rule.Match(fields, match.ports());
  }

  private List<Value> values(List<Value> values) {
    Set<Value> meant = new LinkedHashSet<>();
    values.forEach(value -> meant.addAll(MEANT.of(this, value)));
    return List.copyOf(meant);
  }

  private List<Value> device(Value.DeviceClass device) {
    if (device.kind().isEmpty()) {
      return List.of(device);
    }
    String kind = device.kind().get();
    if (!kind.equals(Device.UNKNOWN_KIND)) {
      return List.of(
          own.deviceKinds().contains(kind)
              ? device
              : new Value.DeviceClass(Optional.of(MomentNames.NOTHING), device.posture()));
    }
    List<Value> meant = new ArrayList<>(List.of(device));
    all.deviceKinds().stream()
        .filter(other -> !own.deviceKinds().contains(other))
        .forEach(other -> meant.add(new Value.DeviceClass(Optional.of(other), device.posture())));
    return meant;
  }

  /** A connection over both as it is at the moment. */
  Connection as(Connection c) {
    Connection.Source from = c.from();
    Device device = from.device();
    String kind = own.deviceKinds().contains(device.kind()) ? device.kind() : Device.UNKNOWN_KIND;
    return new Connection(
        c.at(),
        new Connection.Source(
            joint.zones().at(from.place(), moment),
            from.person().filter(login -> joint.people().isKnown(moment, login)),
            new Device(kind, device.posture())),
        new Connection.Destination(joint.zones().at(c.to().place(), moment), c.to().host()),
        c.service(),
        as(c.using()));
  }

  private Connection.ApplicationUse as(Connection.ApplicationUse use) {
    Catalogue catalogue = own.catalogue();
    if (use.application().isEmpty() || catalogue.application(use.application().get()).isPresent()) {
      return use;
    }
    // What is not recognised is seen as what it comes over.
    return use.carrier()
        .filter(carrier -> catalogue.application(carrier).isPresent())
        .flatMap(catalogue::application)
        .map(carrier -> carrier.plainUse())
        .orElse(Connection.ApplicationUse.UNRECOGNISED);
  }
}
