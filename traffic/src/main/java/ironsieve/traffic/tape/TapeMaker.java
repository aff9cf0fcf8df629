package ironsieve.traffic.tape;

import ironsieve.model.Application;
import ironsieve.model.Connection.ApplicationUse;
import ironsieve.model.Connection.Device;
import ironsieve.model.Connection.Place;
import ironsieve.model.Environment;
import ironsieve.model.Service;
import ironsieve.model.Tape;
import ironsieve.model.Tape.Unsaid;
import ironsieve.model.Zone;
import ironsieve.recorded.ColumnsBuilder;
import ironsieve.recorded.LineBlock;
import ironsieve.recorded.Minutes;
import ironsieve.recorded.TapeColumns;
import ironsieve.region.Address;
import ironsieve.region.Range;
import ironsieve.region.RangeSet;
import ironsieve.text.HostText;
import ironsieve.traffic.signature.Unit;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.Consumer;
import java.util.function.ToIntFunction;
import java.util.stream.Stream;

/**
 * Makes a tape of records: finds the zones of addresses, people and applications by their names,
 * and puts equal connections together. Names that nobody here knows make nothing up: that part of
 * the connection is unsaid, and the name is counted.
 */
public final class TapeMaker {

  private static final int MOST_SAMPLES = 50_000;
  private static final int MOST_UNKNOWN = 1_000;

  /** Beyond so many there is no room for more. */
  private static final int MOST_CONVERSATIONS = 12_000_000;

  private static final long MOST_LINES = 200_000_000;

  /** So many values of one kind are looked up once only. */
  private static final int MOST_REMEMBERED = 2_000_000;

  private static final int NOWHERE = -1;

  private final Environment environment;
  private final TreeMap<Address, Behind> zones = new TreeMap<>();
  private final Map<String, String> applications = new HashMap<>();
  private final ColumnsBuilder columns;
  private final Map<Address, Integer> sources = new HashMap<>();
  private final Map<Address, Integer> destinations = new HashMap<>();
  private final Map<String, Known> people = new HashMap<>();
  private final Map<Device, Known> devices = new HashMap<>();
  private final Map<Optional<String>, Integer> hosts = new HashMap<>();
  private final Map<Service, Integer> services = new HashMap<>();
  private final Map<Said, Known> uses = new HashMap<>();
  private final Map<SampleKey, Integer> samples = new LinkedHashMap<>();
  private final List<Unit> units = new ArrayList<>();
  private final Map<String, Long> unknown = new LinkedHashMap<>();
  private long leftOut;
  private long records;

  private record Behind(Address high, String zone) {}

  /**
   * A value of part of a record.
   *
   * @param unknown what nobody knows here; empty where it is known or not said
   */
  private record Known(int number, boolean isUnsaid, String unknown) {}

  /** What a record says of an application. */
  private record Said(
      String application, Optional<String> feature, Optional<String> carrier, boolean isShown) {}

  /** What records say apart from when they were made and how much they tell; of one maker. */
  public static final class Kind {
    private static final Kind LEFT_OUT = new Kind(NOWHERE, List.of());
    private final int conversation;
    private final List<String> unknown;

    private Kind(int conversation, List<String> unknown) {
      this.conversation = conversation;
      this.unknown = unknown;
    }
  }

  /**
   * What was made.
   *
   * @param built what the lines are made of
   * @param samples what connections showed, those that show the same once
   * @param unknown people, devices and applications that are not known here, with how often
   * @param leftOut connections for which there was no room, whose ends do not go together, or whose
   *     time lies beyond {@link Minutes}
   */
  public record Made(
      ColumnsBuilder.Built built, List<Unit> samples, Map<String, Long> unknown, long leftOut) {}

  /**
   * In these surroundings.
   *
   * @param sink gets the lines, equal connections as one, as they fill blocks
   */
  public TapeMaker(Environment environment, Consumer<LineBlock> sink) {
    this(environment, new ColumnsBuilder(sink));
  }

  /**
   * One for lines that are only added up: equal ones are not looked for.
   *
   * @param sink gets the lines as they come
   */
  public static TapeMaker inOrder(Environment environment, Consumer<LineBlock> sink) {
    return new TapeMaker(environment, ColumnsBuilder.inOrder(sink));
  }

  private TapeMaker(Environment environment, ColumnsBuilder columns) {
    this.environment = environment;
    this.columns = columns;
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

  /** Begins with what is on a tape already; to be called before anything is added. */
  public void begin(TapeColumns tape) {
    for (int b = 0; b < tape.blocks().size(); b++) {
      for (int i = 0; i < tape.blocks().get(b).count(); i++) {
        columns.add(tape.line(b, i));
      }
    }
  }

  /** How many lines there are so far. */
  public long lines() {
    return columns.lines();
  }

  /** How many records were added. */
  public long records() {
    return records;
  }

  /** Adds a record. */
  public void add(TrafficRecord record) {
    if (!Minutes.isInRange(record.at())) {
      records++;
      leftOut += record.times();
      return;
    }
    add(
        kind(record.ends(), record.who(), record.what()),
        Minutes.of(record.at()),
        record.times(),
        record.volume().up(),
        record.volume().down());
  }

  /**
   * Adds a record of a kind that is known already.
   *
   * @param kind of this maker
   * @param minute since 1970
   * @param times how many connections it stands for
   * @param up bytes from the client
   * @param down bytes to it
   */
  public void add(Kind kind, int minute, long times, long up, long down) {
    records++;
    if (kind.conversation == NOWHERE || columns.lines() >= MOST_LINES) {
      leftOut += times;
      return;
    }
    kind.unknown.forEach(this::isUnknown);
    columns.add(kind.conversation, minute, times, up, down);
  }

  /** Finds what records say that differ only in when they were made and in how much they tell. */
  public Kind kind(TrafficRecord.Ends ends, TrafficRecord.Who who, TrafficRecord.What what) {
    int from = number(sources, ends.from(), at -> place(at).map(columns::from).orElse(NOWHERE));
    int to = number(destinations, ends.to(), at -> place(at).map(columns::to).orElse(NOWHERE));
    boolean isPossible =
        from != NOWHERE && to != NOWHERE && ends.from().version() == ends.to().version();
    if (!isPossible || columns.conversations() >= MOST_CONVERSATIONS) {
      return Kind.LEFT_OUT;
    }
    Known person = person(who);
    Known device = device(who.device());
    Known use =
        uses.computeIfAbsent(
            new Said(
                what.application().orElse(""),
                what.feature(),
                what.carrier(),
                what.shown().isPresent()),
            this::use);
    int unsaid = 0;
    unsaid |= person.isUnsaid() ? 1 << Unsaid.PERSON.ordinal() : 0;
    unsaid |= device.isUnsaid() ? 1 << Unsaid.DEVICE.ordinal() : 0;
    unsaid |= what.host().isEmpty() && !what.isHostKnown() ? 1 << Unsaid.HOST.ordinal() : 0;
    unsaid |= use.isUnsaid() ? 1 << Unsaid.APPLICATION.ordinal() : 0;
    int conversation =
        columns.conversation(
            new ColumnsBuilder.Numbers(
                from,
                person.number(),
                device.number(),
                to,
                number(hosts, what.host(), host -> columns.host(host(host))),
                number(services, ends.service(), columns::service),
                use.number(),
                unsaid,
                sample(what.shown())));
    boolean isAllKnown =
        person.unknown().isEmpty() && device.unknown().isEmpty() && use.unknown().isEmpty();
    return new Kind(
        conversation,
        isAllKnown
            ? List.of()
            : Stream.of(person, device, use)
                .map(Known::unknown)
                .filter(name -> !name.isEmpty())
                .toList());
  }

  private static <T> int number(Map<T, Integer> known, T value, ToIntFunction<T> find) {
    Integer number = known.get(value);
    if (number == null) {
      number = find.applyAsInt(value);
      if (known.size() < MOST_REMEMBERED) {
        known.put(value, number);
      }
    }
    return number;
  }

  /** What was made of all records; the last lines go to the sink. */
  public Made finish() {
    return finish(columns.built());
  }

  /**
   * What was made so far, of records that go on coming.
   *
   * @param rest gets the lines that are not in a full block yet
   */
  public Made soFar(Consumer<LineBlock> rest) {
    return finish(columns.soFar(rest));
  }

  private Made finish(ColumnsBuilder.Built built) {
    return new Made(built, List.copyOf(units), Map.copyOf(unknown), leftOut);
  }

  private Optional<Place> place(Address address) {
    Map.Entry<Address, Behind> below = zones.floorEntry(address);
    return below == null || address.compareTo(below.getValue().high()) > 0
        ? Optional.empty()
        : Optional.of(new Place(below.getValue().zone(), address));
  }

  private Known person(TrafficRecord.Who who) {
    if (who.person().isEmpty()) {
      return new Known(columns.person(Optional.empty()), !who.isNobody(), "");
    }
    return people.computeIfAbsent(
        who.person().get(),
        said -> {
          Optional<String> login = login(said);
          return new Known(
              columns.person(login), login.isEmpty(), login.isEmpty() ? "person " + said : "");
        });
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

  private Known device(Optional<Device> said) {
    return said.isEmpty()
        ? new Known(columns.device(Device.UNKNOWN), true, "")
        : devices.computeIfAbsent(said.get(), this::device);
  }

  private Known device(Device said) {
    boolean isKnown =
        said.kind().equals(Device.UNKNOWN_KIND) || environment.deviceKinds().contains(said.kind());
    return isKnown
        ? new Known(columns.device(said), false, "")
        : new Known(columns.device(Device.UNKNOWN), true, "device " + said.kind());
  }

  private static Optional<String> host(Optional<String> said) {
    try {
      return said.map(HostText::name);
    } catch (IllegalArgumentException e) {
      return Optional.empty();
    }
  }

  private Known use(Said said) {
    int unrecognised = columns.use(ApplicationUse.UNRECOGNISED);
    if (said.application().isEmpty()) {
      return new Known(unrecognised, !said.isShown(), "");
    }
    Optional<Application> application =
        Optional.ofNullable(applications.get(said.application().toLowerCase(Locale.ROOT)))
            .flatMap(environment.catalogue()::application);
    return application
        .map(known -> new Known(columns.use(use(known, said.feature(), said.carrier())), false, ""))
        .orElseGet(() -> new Known(unrecognised, true, "application " + said.application()));
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
