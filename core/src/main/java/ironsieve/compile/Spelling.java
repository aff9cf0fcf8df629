package ironsieve.compile;

import ironsieve.model.Application;
import ironsieve.model.Catalogue;
import ironsieve.model.Connection.ApplicationUse;
import ironsieve.model.Connection.Device;
import ironsieve.model.Directory;
import ironsieve.model.Posture;
import ironsieve.model.Value;
import ironsieve.model.Zone;
import ironsieve.region.Address;
import ironsieve.region.IndexSet;
import ironsieve.region.Range;
import ironsieve.region.RangeSet;
import ironsieve.text.NetworkText;
import ironsieve.text.ValueText;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;

/**
 * Writes a set of atoms out exactly, in values a rule could have, where no rule's own words fit:
 * ranges of addresses and ports, groups and logins, spans of time. A set that takes more pieces
 * than its reader wants is not written at all.
 */
public final class Spelling {

  private final Space space;
  private final PlaceAxis places;
  private final PersonAxis people;
  private final SiteAxis sites;
  private final ServiceAxis services;
  private final UsingAxis uses;
  private final TimeAxis times;

  Spelling(
      Space space,
      PlaceAxis places,
      PersonAxis people,
      SiteAxis sites,
      ServiceAxis services,
      UsingAxis uses,
      TimeAxis times) {
    this.space = space;
    this.places = places;
    this.people = people;
    this.sites = sites;
    this.services = services;
    this.uses = uses;
    this.times = times;
  }

  /**
   * One piece of a set.
   *
   * @param text such as {@code tcp/1-79}
   * @param atoms all that the text stands for
   */
  public record Piece(String text, IndexSet atoms) {}

  /**
   * A set in pieces whose union it is within {@code whole}.
   *
   * @param whole the atoms there can be; outside it a piece may stand for more
   * @param most how many pieces anybody wants to read
   * @return nothing if it takes more
   */
  public Optional<List<Piece>> of(Dimension dimension, IndexSet side, IndexSet whole, int most) {
    List<Piece> pieces =
        switch (dimension) {
          case FROM, TO -> places(side, whole, most);
          case PERSON -> people(side);
          case DEVICE -> devices(side);
          case SITE -> sites.spelled(side);
          case SERVICE -> services(side, whole);
          case USING -> uses(side);
          case TIME -> times(side, whole);
        };
    IndexSet said = IndexSet.EMPTY;
    for (Piece piece : pieces) {
      said = said.union(piece.atoms());
    }
    boolean exact = said.intersect(whole).equals(side.intersect(whole));
    return exact && pieces.size() <= most ? Optional.of(pieces) : Optional.empty();
  }

  private List<Piece> places(IndexSet side, IndexSet whole, int most) {
    List<Piece> pieces = new ArrayList<>();
    List<Zone> zones = space.environment().zones();
    List<RangeSet<Address>> behind = Zone.behind(zones);
    for (int z = 0; z < zones.size() && pieces.size() <= most; z++) {
      IndexSet zone = places.zone(zones.get(z).name());
      IndexSet held = side.intersect(zone).intersect(whole);
      if (held.isEmpty()) {
        continue;
      }
      if (held.containsAll(zone.intersect(whole))) {
        pieces.add(new Piece(zones.get(z).name(), zone));
        continue;
      }
      for (Range<Address> run : places.runs(z, held)) {
        boolean alone = true;
        for (int other = 0; other < zones.size(); other++) {
          alone &= other == z || !meets(behind.get(other), run);
        }
        String text = NetworkText.print(run);
        pieces.add(
            new Piece(
                alone ? text : text + " behind " + zones.get(z).name(), places.inside(z, run)));
      }
    }
    return pieces;
  }

  private static boolean meets(RangeSet<Address> set, Range<Address> run) {
    return set.ranges().stream()
        .anyMatch(
            range ->
                range.low().compareTo(run.high()) <= 0 && run.low().compareTo(range.high()) <= 0);
  }

  /** Everybody in a set of people by login, unless they are more than somebody wants to read. */
  public Optional<List<Piece>> logins(IndexSet side, int most) {
    List<Piece> pieces = new ArrayList<>();
    people.logins(side).forEach((login, atom) -> pieces.add(new Piece(login, IndexSet.of(atom))));
    return side.intersects(space.unidentified()) || pieces.isEmpty() || pieces.size() > most
        ? Optional.empty()
        : Optional.of(pieces);
  }

  /** The widest groups that lie inside first, then single people. */
  private List<Piece> people(IndexSet side) {
    List<Piece> pieces = new ArrayList<>();
    IndexSet unidentified = space.unidentified();
    IndexSet identified = space.whole(Dimension.PERSON.ordinal()).minus(unidentified);
    IndexSet left = side;
    if (side.containsAll(identified)) {
      pieces.add(new Piece("identified", identified));
      left = left.minus(identified);
    }
    Directory directory = space.environment().directory();
    List<Piece> groups = new ArrayList<>();
    for (Directory.Group group :
        left.intersects(identified) ? directory.groups() : List.<Directory.Group>of()) {
      Value value = new Value.GroupName(group.name());
      IndexSet members = people.exactly(value, directory);
      if (!members.isEmpty() && side.containsAll(members)) {
        groups.add(new Piece(ValueText.print(value), members));
      }
    }
    groups.sort(Comparator.comparing((Piece piece) -> piece.atoms().count()).reversed());
    for (Piece group : groups) {
      if (left.intersects(group.atoms())) {
        pieces.add(group);
        left = left.minus(group.atoms());
      }
    }
    IndexSet single = left;
    people.logins(single).forEach((login, atom) -> pieces.add(new Piece(login, IndexSet.of(atom))));
    if (left.intersects(unidentified)) {
      pieces.add(new Piece("unidentified", unidentified));
    }
    return pieces;
  }

  private List<Piece> devices(IndexSet side) {
    int dimension = Dimension.DEVICE.ordinal();
    Set<Value> values = new LinkedHashSet<>();
    for (Posture posture : Posture.values()) {
      values.add(new Value.DeviceClass(Optional.empty(), Optional.of(posture)));
    }
    List<Device> held = new ArrayList<>();
    space.whole(dimension).forEach(atom -> held.add(space.device(atom)));
    for (Device device : held) {
      values.add(new Value.DeviceClass(Optional.of(device.kind()), Optional.empty()));
    }
    for (Device device : held) {
      values.add(new Value.DeviceClass(Optional.of(device.kind()), Optional.of(device.posture())));
    }
    return greedy(values, side, space::devices);
  }

  private interface Atoms {
    IndexSet of(Value value);
  }

  private static List<Piece> greedy(Set<Value> values, IndexSet side, Atoms atoms) {
    List<Piece> pieces = new ArrayList<>();
    IndexSet left = side;
    for (Value value : values) {
      IndexSet own = atoms.of(value);
      if (!own.isEmpty() && side.containsAll(own) && left.intersects(own)) {
        pieces.add(new Piece(ValueText.print(value), own));
        left = left.minus(own);
      }
    }
    return pieces;
  }

  private List<Piece> services(IndexSet side, IndexSet whole) {
    List<Piece> pieces = new ArrayList<>();
    // What there cannot be may join two runs, but is not worth a piece.
    IndexSet held = side.union(space.whole(Dimension.SERVICE.ordinal()).minus(whole));
    for (Value.ServiceRange run : services.runs(side.intersect(whole), held)) {
      pieces.add(new Piece(ValueText.print(run), services.atoms(run)));
    }
    return pieces;
  }

  /** Categories and families that lie inside whole, then applications, carriers and features. */
  private List<Piece> uses(IndexSet side) {
    Catalogue catalogue = space.environment().catalogue();
    Map<Value, IndexSet> classes = new LinkedHashMap<>();
    for (Application application : catalogue.applications()) {
      IndexSet all = uses.of(application, Optional.empty());
      classes.merge(
          new Value.CategoryName(application.grouping().category()), all, IndexSet::union);
    }
    for (Application application : catalogue.applications()) {
      if (!application.grouping().family().isEmpty()) {
        IndexSet all = uses.of(application, Optional.empty());
        classes.merge(new Value.FamilyName(application.grouping().family()), all, IndexSet::union);
      }
    }
    // An atom that holds leaves of several classes is of none of them.
    List<Piece> pieces = new ArrayList<>();
    Set<ApplicationUse> left = new LinkedHashSet<>(uses.leaves(side));
    classes.forEach(
        (value, atoms) -> {
          Set<ApplicationUse> own = leavesOf(value, catalogue);
          if (side.containsAll(atoms) && left.stream().anyMatch(own::contains)) {
            pieces.add(new Piece(ValueText.print(value), atoms));
            left.removeAll(own);
          }
        });
    Set<String> names = new TreeSet<>();
    left.forEach(use -> use.application().ifPresent(names::add));
    for (String name : names) {
      Application application = catalogue.application(name).orElseThrow();
      pieces.addAll(uses(application, left));
    }
    if (left.contains(ApplicationUse.UNRECOGNISED)) {
      pieces.add(new Piece("unidentified", space.unrecognised()));
    }
    return pieces;
  }

  private Set<ApplicationUse> leavesOf(Value value, Catalogue catalogue) {
    Set<ApplicationUse> own = new HashSet<>();
    catalogue.applications().stream()
        .filter(application -> Filters.holds(value, application))
        .forEach(application -> own.addAll(UsingAxis.leaves(application)));
    return own;
  }

  private List<Piece> uses(Application application, Set<ApplicationUse> left) {
    Set<ApplicationUse> all = new LinkedHashSet<>(UsingAxis.leaves(application));
    Set<ApplicationUse> open = new LinkedHashSet<>(all);
    open.retainAll(left);
    if (open.size() == all.size()) {
      return List.of(new Piece(application.name(), atoms(all)));
    }
    List<Piece> pieces = new ArrayList<>();
    List<Optional<String>> carriers = all.stream().map(ApplicationUse::carrier).distinct().toList();
    List<Optional<String>> features = all.stream().map(ApplicationUse::feature).distinct().toList();
    for (Optional<String> carrier : carriers) {
      List<ApplicationUse> over =
          all.stream().filter(use -> use.carrier().equals(carrier)).toList();
      if (carriers.size() > 1 && open.containsAll(over)) {
        pieces.add(new Piece(application.name() + " over " + carrier.orElseThrow(), atoms(over)));
        over.forEach(open::remove);
      }
    }
    for (Optional<String> feature : features) {
      List<ApplicationUse> of = all.stream().filter(use -> use.feature().equals(feature)).toList();
      String name = application.name() + feature.map(f -> "/" + f).orElse(" without a feature");
      if (open.containsAll(of)) {
        pieces.add(new Piece(name, atoms(of)));
      } else {
        of.stream()
            .filter(open::contains)
            .forEach(
                use ->
                    pieces.add(
                        new Piece(
                            name + " over " + use.carrier().orElseThrow(), atoms(List.of(use)))));
      }
    }
    return pieces;
  }

  private IndexSet atoms(Iterable<ApplicationUse> some) {
    IndexSet all = IndexSet.EMPTY;
    for (ApplicationUse use : some) {
      all = all.union(IndexSet.of(uses.atom(use)));
    }
    return all;
  }

  private List<Piece> times(IndexSet side, IndexSet whole) {
    return times.spans(side.intersect(whole), whole).stream()
        .map(span -> new Piece(ValueText.print(span), times.holding(span)))
        .toList();
  }
}
