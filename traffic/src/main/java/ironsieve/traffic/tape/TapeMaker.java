package ironsieve.traffic.tape;

import ironsieve.files.TapeCsv;
import ironsieve.model.Application;
import ironsieve.model.Connection;
import ironsieve.model.Connection.ApplicationUse;
import ironsieve.model.Connection.Device;
import ironsieve.model.Connection.Place;
import ironsieve.model.Environment;
import ironsieve.model.Tape;
import ironsieve.model.Tape.Unsaid;
import ironsieve.model.Zone;
import ironsieve.region.Address;
import ironsieve.region.Range;
import ironsieve.region.RangeSet;
import ironsieve.text.HostText;
import ironsieve.traffic.signature.Unit;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;

/**
 * Makes a tape of records: finds the zones of addresses, people and applications by their names,
 * and puts equal connections together. Names that nobody here knows make nothing up: that part of
 * the connection is unsaid, and the name is counted.
 */
public final class TapeMaker {

  private static final int MOST_SAMPLES = 50_000;
  private static final int MOST_UNKNOWN = 1_000;

  private final Environment environment;
  private final TreeMap<Address, Behind> zones = new TreeMap<>();
  private final Map<String, String> applications = new HashMap<>();
  private final Map<String, Optional<String>> people = new HashMap<>();
  private final Map<Key, Counted> lines = new LinkedHashMap<>();
  private final Map<SampleKey, Integer> samples = new LinkedHashMap<>();
  private final List<Unit> units = new ArrayList<>();
  private final Map<String, Long> unknown = new LinkedHashMap<>();
  private long leftOut;
  private long records;

  private record Behind(Address high, String zone) {}

  private record Key(Connection connection, Set<Unsaid> unsaid, int sample) {}

  private static final class Counted {
    private long times;
    private long up;
    private long down;
  }

  /**
   * What was made.
   *
   * @param lines equal connections as one
   * @param samples what connections showed, those that show the same once
   * @param unknown people, devices and applications that are not known here, with how often
   * @param leftOut connections for which there was no room, or whose ends do not go together
   */
  public record Made(
      List<Tape.Line> lines, List<Unit> samples, Map<String, Long> unknown, long leftOut) {}

  /** In these surroundings. */
  public TapeMaker(Environment environment) {
    this.environment = environment;
    List<RangeSet<Address>> behind = Zone.behind(environment.zones());
    for (int z = 0; z < behind.size(); z++) {
      for (Range<Address> range : behind.get(z).ranges()) {
        zones.putIfAbsent(range.low(), new Behind(range.high(), environment.zones().get(z).name()));
      }
    }
    environment
        .catalogue()
        .applications()
        .forEach(one -> applications.put(one.name().toLowerCase(Locale.ROOT), one.name()));
  }

  /** How many records were added. */
  public long records() {
    return records;
  }

  /** Adds a record. */
  public void add(TrafficRecord record) {
    records++;
    Optional<Place> from = place(record.ends().from());
    Optional<Place> to = place(record.ends().to());
    boolean isPossible =
        from.isPresent()
            && to.isPresent()
            && record.ends().from().version() == record.ends().to().version();
    if (!isPossible) {
      leftOut += record.times();
      return;
    }
    Set<Unsaid> unsaid = EnumSet.noneOf(Unsaid.class);
    Optional<String> person = person(record.who(), unsaid);
    Device device = device(record.who(), unsaid);
    Optional<String> host = host(record.what(), unsaid);
    ApplicationUse use = use(record.what(), unsaid);
    Connection connection =
        new Connection(
            record.at().truncatedTo(ChronoUnit.MINUTES),
            new Connection.Source(from.get(), person, device),
            new Connection.Destination(to.get(), host),
            record.ends().service(),
            use);
    add(new Key(connection, Set.copyOf(unsaid), sample(record.what().shown())), record);
  }

  private void add(Key key, TrafficRecord record) {
    Counted counted = lines.get(key);
    if (counted == null) {
      if (lines.size() >= TapeCsv.MOST_LINES) {
        leftOut += record.times();
        return;
      }
      counted = new Counted();
      lines.put(key, counted);
    }
    counted.times += record.times();
    counted.up += record.volume().up();
    counted.down += record.volume().down();
  }

  /** What was made of all records. */
  public Made made() {
    List<Tape.Line> all = new ArrayList<>(lines.size());
    lines.forEach(
        (key, counted) ->
            all.add(
                new Tape.Line(
                    key.connection(),
                    counted.times,
                    new Tape.Volume(counted.up, counted.down),
                    key.unsaid(),
                    key.sample())));
    return new Made(all, List.copyOf(units), Map.copyOf(unknown), leftOut);
  }

  private Optional<Place> place(Address address) {
    Map.Entry<Address, Behind> below = zones.floorEntry(address);
    return below == null || address.compareTo(below.getValue().high()) > 0
        ? Optional.empty()
        : Optional.of(new Place(below.getValue().zone(), address));
  }

  private Optional<String> person(TrafficRecord.Who who, Set<Unsaid> unsaid) {
    if (who.person().isEmpty()) {
      if (!who.isNobody()) {
        unsaid.add(Unsaid.PERSON);
      }
      return Optional.empty();
    }
    Optional<String> known = people.computeIfAbsent(who.person().get(), this::login);
    if (known.isEmpty()) {
      unsaid.add(Unsaid.PERSON);
      isUnknown("person " + who.person().get());
    }
    return known;
  }

  /** Logs write a login with its domain before or behind it. */
  private Optional<String> login(String said) {
    String bare = said.substring(said.lastIndexOf('\\') + 1);
    int at = bare.indexOf('@');
    String local = at > 0 ? bare.substring(0, at) : bare;
    for (String form : List.of(said, bare, local, local.toLowerCase(Locale.ROOT))) {
      if (environment.directory().person(form).isPresent()) {
        return Optional.of(form);
      }
    }
    return Optional.empty();
  }

  private Device device(TrafficRecord.Who who, Set<Unsaid> unsaid) {
    if (who.device().isEmpty()) {
      unsaid.add(Unsaid.DEVICE);
      return Device.UNKNOWN;
    }
    Device device = who.device().get();
    boolean isKnown =
        device.kind().equals(Device.UNKNOWN_KIND)
            || environment.deviceKinds().contains(device.kind());
    if (!isKnown) {
      unsaid.add(Unsaid.DEVICE);
      isUnknown("device " + device.kind());
      return Device.UNKNOWN;
    }
    return device;
  }

  private static Optional<String> host(TrafficRecord.What what, Set<Unsaid> unsaid) {
    if (what.host().isEmpty() && !what.isHostKnown()) {
      unsaid.add(Unsaid.HOST);
    }
    try {
      return what.host().map(HostText::name);
    } catch (IllegalArgumentException e) {
      return Optional.empty();
    }
  }

  private ApplicationUse use(TrafficRecord.What what, Set<Unsaid> unsaid) {
    if (what.application().isEmpty()) {
      if (what.shown().isEmpty()) {
        unsaid.add(Unsaid.APPLICATION);
      }
      return ApplicationUse.UNRECOGNISED;
    }
    String said = what.application().get();
    Optional<Application> application =
        Optional.ofNullable(applications.get(said.toLowerCase(Locale.ROOT)))
            .flatMap(environment.catalogue()::application);
    if (application.isEmpty()) {
      unsaid.add(Unsaid.APPLICATION);
      isUnknown("application " + said);
      return ApplicationUse.UNRECOGNISED;
    }
    return use(application.get(), what.feature(), what.carrier());
  }

  /**
   * A use of an application as the catalogue has it: in the carrier it was seen inside, if it rides
   * on that, and otherwise in its first.
   */
  public static ApplicationUse use(
      Application application, Optional<String> feature, Optional<String> carrier) {
    List<String> carriers = application.wiring().ridesOn();
    return new ApplicationUse(
        Optional.of(application.name()),
        carrier.filter(carriers::contains).or(() -> carriers.stream().findFirst()),
        feature.filter(application.features()::contains));
  }

  private void isUnknown(String what) {
    if (unknown.size() < MOST_UNKNOWN || unknown.containsKey(what)) {
      unknown.merge(what, 1L, Long::sum);
    }
  }

  private int sample(Optional<Unit> shown) {
    if (shown.isEmpty()) {
      return Tape.NO_SAMPLE;
    }
    Unit unit = shown.get();
    SampleKey key = SampleKey.of(unit);
    Integer number = samples.get(key);
    if (number == null) {
      if (samples.size() >= MOST_SAMPLES) {
        return Tape.NO_SAMPLE;
      }
      number = samples.size();
      samples.put(key, number);
      units.add(unit);
    }
    return number;
  }
}
