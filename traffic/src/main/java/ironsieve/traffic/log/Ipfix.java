package ironsieve.traffic.log;

import ironsieve.model.Service;
import ironsieve.model.Tape.Volume;
import ironsieve.region.Address;
import ironsieve.traffic.tape.TrafficRecord;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;

/**
 * Flow records of IPFIX (RFC 7011): messages with templates and the records these describe. Keeps
 * the templates of each exporter and domain. Elements that are read: addresses, ports, protocol,
 * octets both ways (the reverse ones of RFC 5103 too), times, application name, and the user's
 * name. Records that tell one direction each are joined ({@link FlowHalves}).
 */
public final class Ipfix {

  /** No message is shorter: so long is its header. */
  public static final int SHORTEST = 16;

  private static final int VERSION = 10;
  private static final int HEADER = SHORTEST;
  private static final int TEMPLATES = 2;
  private static final int OPTIONS = 3;
  private static final int FIRST_DATA = 256;
  private static final int VARIABLE = 65_535;
  private static final int REVERSE = 29_305;
  private static final int SOURCE_PORT = 7;
  private static final int INITIATOR_OCTETS = 231;
  private static final int RESPONDER_OCTETS = 232;
  private static final int MOST_TEMPLATES = 4_096;
  private static final int MOST_FIELDS = 256;

  private final ZoneId zone;
  private final Map<String, List<Element>> templates =
      new LinkedHashMap<>() {
        private static final long serialVersionUID = 1L;

        @Override
        protected boolean removeEldestEntry(Map.Entry<String, List<Element>> eldest) {
          return size() > MOST_TEMPLATES;
        }
      };
  private final FlowHalves halves = new FlowHalves();
  private long withoutTemplate;
  private long unreadable;

  private record Element(int id, int length, int enterprise) {}

  /** Nothing was seen yet. */
  public Ipfix(ZoneId zone) {
    this.zone = zone;
  }

  /** How many sets of records came before their template. */
  public long withoutTemplate() {
    return withoutTemplate;
  }

  /** How many messages, sets or records could not be read. */
  public long unreadable() {
    return unreadable;
  }

  /** How many records were answers alone, whose connections went the other way round. */
  public long turned() {
    return halves.turned();
  }

  /** How many records tell one direction alone and nothing of who began. */
  public long undirected() {
    return halves.undirected();
  }

  /** Gives the records of one direction that still wait for the other; to be asked at the end. */
  public void finish(Consumer<TrafficRecord> found) {
    halves.finish(found);
  }

  /** How long the message is that begins here; 0 where none does. */
  public static int length(byte[] bytes, int offset, int available) {
    if (available < HEADER || u16(bytes, offset) != VERSION) {
      return 0;
    }
    int length = u16(bytes, offset + 2);
    return length >= HEADER ? length : 0;
  }

  /**
   * What other export of flows begins here, in words; nothing if it is none that is known by its
   * first bytes. Its records are not read.
   *
   * @param first at least the first four bytes
   */
  public static Optional<String> other(byte[] first) {
    if (first.length < 4) {
      return Optional.empty();
    }
    int version = u16(first, 0);
    boolean isFlow = (version == 5 || version == 9) && u16(first, 2) > 0 && u16(first, 2) < 1_000;
    if (isFlow) {
      return Optional.of("NetFlow version " + version);
    }
    return version == 0 && u16(first, 2) == 5 ? Optional.of("sFlow version 5") : Optional.empty();
  }

  /**
   * Reads one message. A record that tells one direction waits for the one that tells the other, so
   * that {@link #finish} gives the last of them.
   *
   * @param exporter whose templates are meant
   * @param found is given each connection
   */
  public void message(
      String exporter, byte[] bytes, int offset, int length, Consumer<TrafficRecord> found) {
    if (length < HEADER || length(bytes, offset, length) != length) {
      unreadable++;
      return;
    }
    long exported = u32(bytes, offset + 4);
    String domain = exporter + " " + u32(bytes, offset + 12);
    int at = offset + HEADER;
    int end = offset + length;
    while (at + 4 <= end) {
      int set = u16(bytes, at);
      int size = u16(bytes, at + 2);
      if (size < 4 || at + size > end) {
        unreadable++;
        return;
      }
      if (set == TEMPLATES) {
        templates(domain, bytes, at + 4, at + size);
      } else if (set >= FIRST_DATA) {
        data(domain, set, bytes, at + 4, at + size, exported, found);
      } else if (set != OPTIONS) {
        unreadable++;
      }
      at += size;
    }
  }

  private void templates(String domain, byte[] bytes, int from, int end) {
    int at = from;
    while (at + 4 <= end) {
      int id = u16(bytes, at);
      int count = u16(bytes, at + 2);
      at += 4;
      if (count == 0) {
        templates.remove(domain + " " + id);
        continue;
      }
      List<Element> elements = new ArrayList<>();
      for (int i = 0; i < count; i++) {
        if (at + 4 > end || count > MOST_FIELDS) {
          unreadable++;
          return;
        }
        int element = u16(bytes, at);
        int length = u16(bytes, at + 2);
        at += 4;
        int enterprise = 0;
        if ((element & 0x8000) != 0) {
          if (at + 4 > end) {
            unreadable++;
            return;
          }
          enterprise = (int) u32(bytes, at);
          at += 4;
        }
        elements.add(new Element(element & 0x7FFF, length, enterprise));
      }
      templates.put(domain + " " + id, List.copyOf(elements));
    }
  }

  private void data(
      String domain,
      int set,
      byte[] bytes,
      int from,
      int end,
      long exported,
      Consumer<TrafficRecord> found) {
    List<Element> template = templates.get(domain + " " + set);
    if (template == null) {
      withoutTemplate++;
      return;
    }
    if (!hasAddresses(template)) {
      // Of such records none can become a connection, however many a set of a few bytes each has.
      unreadable++;
      return;
    }
    int[] at = {from};
    while (at[0] < end) {
      int before = at[0];
      Map<Integer, byte[]> values = record(template, bytes, at, end);
      if (values == null || at[0] == before) {
        // What is left of a set is padding, which is shorter than a record.
        return;
      }
      if (address(values, 8, 27).isPresent() && address(values, 12, 28).isPresent()) {
        TrafficRecord record = record(values, exported);
        Optional<Long> sourcePort = number(values, SOURCE_PORT).filter(port -> port > 0);
        if (sourcePort.isPresent() && isOneWay(values, record)) {
          halves.add(record, sourcePort.get().intValue() & 0xFFFF, found);
        } else {
          found.accept(record);
        }
      } else {
        unreadable++;
      }
    }
  }

  /** Whether a record has ports and says nothing of the direction back. */
  private static boolean isOneWay(Map<Integer, byte[]> values, TrafficRecord record) {
    return Service.hasPorts(record.ends().service().protocol())
        && values.keySet().stream().noneMatch(element -> element < 0)
        && !values.containsKey(RESPONDER_OCTETS)
        && !values.containsKey(INITIATOR_OCTETS);
  }

  private static boolean hasAddresses(List<Element> template) {
    return template.stream().anyMatch(Ipfix::isSource)
        && template.stream().anyMatch(Ipfix::isDestination);
  }

  private static boolean isSource(Element element) {
    return element.enterprise() == 0 && (element.id() == 8 || element.id() == 27);
  }

  private static boolean isDestination(Element element) {
    return element.enterprise() == 0 && (element.id() == 12 || element.id() == 28);
  }

  /** The values of one record, by element; those of the reverse direction as negative numbers. */
  private static Map<Integer, byte[]> record(
      List<Element> template, byte[] bytes, int[] at, int end) {
    Map<Integer, byte[]> values = new HashMap<>();
    for (Element element : template) {
      int length = element.length();
      if (length == VARIABLE) {
        if (at[0] >= end) {
          return null;
        }
        length = bytes[at[0]++] & 0xFF;
        if (length == 255) {
          if (at[0] + 2 > end) {
            return null;
          }
          length = u16(bytes, at[0]);
          at[0] += 2;
        }
      }
      if (at[0] + length > end) {
        return null;
      }
      byte[] value = java.util.Arrays.copyOfRange(bytes, at[0], at[0] + length);
      at[0] += length;
      if (element.enterprise() == 0) {
        values.put(element.id(), value);
      } else if (element.enterprise() == REVERSE) {
        values.put(-element.id(), value);
      }
    }
    return values;
  }

  private TrafficRecord record(Map<Integer, byte[]> values, long exported) {
    Address from = address(values, 8, 27).orElseThrow();
    Address to = address(values, 12, 28).orElseThrow();
    int protocol = (int) number(values, 4).orElse(0L).longValue();
    boolean hasPorts = Service.hasPorts(protocol);
    int detail =
        hasPorts
            ? (int) number(values, 11).orElse(0L).longValue()
            : protocol == Service.ICMP
                ? (int) number(values, 32).orElse(0L).longValue()
                : protocol == Service.ICMPV6 ? (int) number(values, 139).orElse(0L).longValue() : 0;
    Optional<String> application = text(values, 96);
    String[] parts = application.orElse("").split("/", 2);
    return new TrafficRecord(
        LocalDateTime.ofInstant(time(values, exported), zone),
        new TrafficRecord.Ends(from, to, new Service(protocol & 0xFF, detail & 0xFFFF)),
        new TrafficRecord.Who(text(values, 371), false, Optional.empty()),
        new TrafficRecord.What(
            text(values, 460),
            text(values, 460).isPresent(),
            application.map(name -> parts[0]),
            parts.length > 1 ? Optional.of(parts[1]) : Optional.empty(),
            Optional.empty(),
            Optional.empty()),
        1,
        new Volume(
            number(values, 1).or(() -> number(values, 85)).or(() -> number(values, 231)).orElse(0L),
            number(values, -1).or(() -> number(values, 232)).orElse(0L)));
  }

  private static Instant time(Map<Integer, byte[]> values, long exported) {
    return number(values, 152)
        .filter(millis -> millis >= 0)
        .map(Instant::ofEpochMilli)
        .or(() -> number(values, 150).map(Instant::ofEpochSecond))
        .orElse(Instant.ofEpochSecond(exported));
  }

  private static Optional<Address> address(Map<Integer, byte[]> values, int v4, int v6) {
    byte[] four = values.get(v4);
    if (four != null && four.length == 4) {
      return Optional.of(Address.v4(u32(four, 0)));
    }
    byte[] six = values.get(v6);
    if (six != null && six.length == 16) {
      return Optional.of(
          new Address(
              Address.Version.V6,
              u32(six, 0) << 32 | u32(six, 4),
              u32(six, 8) << 32 | u32(six, 12)));
    }
    return Optional.empty();
  }

  private static Optional<Long> number(Map<Integer, byte[]> values, int element) {
    byte[] value = values.get(element);
    if (value == null || value.length == 0 || value.length > 8) {
      return Optional.empty();
    }
    long number = 0;
    for (byte one : value) {
      number = number << 8 | one & 0xFF;
    }
    return number < 0 ? Optional.empty() : Optional.of(number);
  }

  private static Optional<String> text(Map<Integer, byte[]> values, int element) {
    return Optional.ofNullable(values.get(element))
        .map(bytes -> new String(bytes, StandardCharsets.UTF_8).replace("\0", "").strip())
        .filter(text -> !text.isEmpty() && text.length() <= 500);
  }

  private static int u16(byte[] bytes, int at) {
    return (bytes[at] & 0xFF) << 8 | bytes[at + 1] & 0xFF;
  }

  private static long u32(byte[] bytes, int at) {
    return (long) u16(bytes, at) << 16 | u16(bytes, at + 2);
  }
}
