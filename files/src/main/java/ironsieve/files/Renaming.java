package ironsieve.files;

import ironsieve.files.Documents.AcceptedDoc;
import ironsieve.files.Documents.PromiseDoc;
import ironsieve.files.Documents.RuleDoc;
import ironsieve.files.Documents.SetDoc;
import ironsieve.model.Connection;
import ironsieve.model.Connection.Device;
import ironsieve.model.Connection.Place;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.recorded.Values;
import ironsieve.text.ProbeText;
import ironsieve.text.ValueText;
import java.time.LocalDateTime;
import java.util.List;
import java.util.Optional;

/** New names of the workspace, put in the place of the old ones wherever a rulebase uses them. */
public final class Renaming {

  private static final LocalDateTime UNASKED = LocalDateTime.of(2000, 1, 1, 0, 0);

  private final List<Renamed> renamed;
  private final Optional<ProbeText> probes;

  /**
   * A record that has another name.
   *
   * @param id what identified it before
   * @param name what it is called now
   */
  public record Renamed(WorkspaceKind kind, String id, String name) {}

  /**
   * Some new names, taken on one after the other.
   *
   * @param probes reads promises in the words of before
   */
  public Renaming(List<Renamed> renamed, ProbeText probes) {
    this(renamed, Optional.of(probes));
  }

  /** New names for what holds no promises. */
  public Renaming(List<Renamed> renamed) {
    this(renamed, Optional.empty());
  }

  private Renaming(List<Renamed> renamed, Optional<ProbeText> probes) {
    this.renamed = List.copyOf(renamed);
    this.probes = probes;
  }

  /** A set in the new words. */
  public SetDoc of(SetDoc set) {
    return NamedPlaces.map(set, this::text);
  }

  /** A rulebase in the new words; the same object where none of the names is used. */
  public Contents of(Contents contents) {
    List<Renamed> meant =
        renamed.stream()
            .filter(
                one ->
                    // A set of the rulebase's own goes before the shared one of its name.
                    one.kind() != WorkspaceKind.SET || !contents.sets().containsKey(one.id()))
            .toList();
    return meant.size() == renamed.size()
        ? all(contents)
        : new Renaming(meant, probes).all(contents);
  }

  private Contents all(Contents contents) {
    Contents next = inPlaces(contents, this::text);
    contents.promises().values().forEach(promise -> next.put(RecordKind.PROMISE, promise(promise)));
    return next.saysTheSame(contents) ? contents : next;
  }

  /** A rulebase whose own set has another name, in everything of it that names the set. */
  public static Contents ofOwnSet(Contents contents, String kind, String from, String to) {
    String old = ValueText.print(new Value.SetName(from));
    String named = ValueText.print(new Value.SetName(to));
    return inPlaces(
        contents,
        place ->
            place.kind().word().equals(kind) && place.text().equals(old) ? named : place.text());
  }

  /** Other values, by which what was accepted about a rule stays accepted. */
  private static Contents inPlaces(Contents contents, NamedPlaces.Mapping mapping) {
    Contents next = NamedPlaces.map(contents, mapping);
    for (AcceptedDoc accepted : contents.accepted().values()) {
      RuleDoc before = contents.rules().get(accepted.rule());
      RuleDoc after = next.rules().get(accepted.rule());
      if (before != null && !before.equals(after)) {
        next.put(RecordKind.ACCEPTED, RulePrint.moved(accepted, before, after));
      }
    }
    return next;
  }

  private String text(NamedPlaces.Place place) {
    try {
      Value value = ValueText.parse(place.kind(), place.text());
      Value next = value(place.kind(), value);
      return next.equals(value) ? place.text() : ValueText.print(next);
    } catch (IllegalArgumentException e) {
      // A record that cannot be read is told elsewhere.
      return place.text();
    }
  }

  private Value value(ValueKind kind, Value value) {
    Value next = value;
    for (Renamed one : renamed) {
      next =
          RecordNames.map(
              kind,
              next,
              (record, id) ->
                  record == one.kind() && id.equals(one.id())
                      ? Optional.of(one.name())
                      : Optional.empty());
    }
    return next;
  }

  /** Whether recorded traffic, which names zones, people and devices, is to be read otherwise. */
  public boolean isOfTraffic() {
    return renamed.stream().anyMatch(Renaming::isOfTraffic);
  }

  private static boolean isOfTraffic(Renamed one) {
    return one.kind() == WorkspaceKind.ZONE
        || one.kind() == WorkspaceKind.PERSON
        || one.kind() == WorkspaceKind.DEVICE_KIND;
  }

  /** A tape in the new words; a line that cannot be read stays what it is. */
  public String tape(String csv) {
    boolean isConcerned =
        renamed.stream().anyMatch(one -> isOfTraffic(one) && csv.contains(one.id()));
    return isConcerned && probes.isPresent() ? TapeCsv.renamed(csv, probes.get(), this::of) : csv;
  }

  private PromiseDoc promise(PromiseDoc promise) {
    if (probes.isEmpty()) {
      return promise;
    }
    try {
      Connection connection = probes.get().parse(promise.probe(), UNASKED).connection();
      Connection next = of(connection);
      return next.equals(connection)
          ? promise
          : new PromiseDoc(
              promise.id(),
              promise.group(),
              promise.name(),
              ProbeText.print(next),
              promise.verdict(),
              promise.catcher());
    } catch (IllegalArgumentException e) {
      return promise;
    }
  }

  /** What a tape names in the new words; the same object where none of them is used. */
  public Values of(Values values) {
    Values next =
        values.renamed(
            this::place, login -> login.map(one -> name(WorkspaceKind.PERSON, one)), this::device);
    return next.equals(values) ? values : next;
  }

  /** A connection in the new words. */
  public Connection of(Connection c) {
    Connection.Source from = c.from();
    return new Connection(
        c.at(),
        new Connection.Source(
            place(from.place()),
            from.person().map(login -> name(WorkspaceKind.PERSON, login)),
            device(from.device())),
        new Connection.Destination(place(c.to().place()), c.to().host()),
        c.service(),
        c.using());
  }

  private Device device(Device device) {
    return new Device(name(WorkspaceKind.DEVICE_KIND, device.kind()), device.posture());
  }

  private Place place(Place place) {
    return new Place(name(WorkspaceKind.ZONE, place.zone()), place.address());
  }

  /** What a record of a kind is called now. */
  public String name(WorkspaceKind kind, String id) {
    String next = id;
    for (Renamed one : renamed) {
      next = one.kind() == kind && one.id().equals(next) ? one.name() : next;
    }
    return next;
  }
}
