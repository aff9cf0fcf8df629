package ironsieve.text;

import ironsieve.model.Service;
import ironsieve.model.Value;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/**
 * Services as text: {@code tcp/443}, {@code udp/5000-5100}, {@code tcp}, {@code icmp/8}, {@code
 * icmp/3.4}, {@code ip/47}.
 */
final class ServiceText {

  private ServiceText() {}

  /**
   * Reads a service or a range of them.
   *
   * @throws TextException naming what is wrong with it and what would be right
   */
  static Value parse(String text) {
    String lower = text.toLowerCase(Locale.ROOT);
    int slash = lower.indexOf('/');
    String name = slash < 0 ? lower : lower.substring(0, slash);
    String detail = slash < 0 ? "" : lower.substring(slash + 1);
    if (name.equals("ip")) {
      int protocol = NumberText.within(detail, 0, 255, text);
      return range(protocol, 0, Service.lastDetail(protocol));
    }
    Integer protocol = Service.PROTOCOLS.get(name);
    if (protocol == null) {
      throw new TextException(
          0, "\"" + text + "\" is not a service, such as tcp/443, udp/5000-5100, icmp/8 or ip/47");
    }
    if (slash < 0) {
      return range(protocol, 0, Service.lastDetail(protocol));
    }
    return protocol == Service.ICMP || protocol == Service.ICMPV6
        ? icmp(protocol, detail, text)
        : ports(protocol, detail, text);
  }

  private static Value icmp(int protocol, String detail, String text) {
    int dot = detail.indexOf('.');
    int type = NumberText.within(dot < 0 ? detail : detail.substring(0, dot), 0, 255, text);
    if (dot < 0) {
      return range(protocol, type << 8, type << 8 | 255);
    }
    int code = NumberText.within(detail.substring(dot + 1), 0, 255, text);
    return range(protocol, type << 8 | code, type << 8 | code);
  }

  private static Value ports(int protocol, String detail, String text) {
    int dash = detail.indexOf('-');
    int low = NumberText.within(dash < 0 ? detail : detail.substring(0, dash), 0, 65535, text);
    int high = dash < 0 ? low : NumberText.within(detail.substring(dash + 1), 0, 65535, text);
    if (low > high) {
      throw new TextException(0, "\"" + text + "\": ports go upwards");
    }
    return range(protocol, low, high);
  }

  private static Value range(int protocol, int low, int high) {
    return new Value.ServiceRange(new Service(protocol, low), new Service(protocol, high));
  }

  /** Writes a range of services so that {@link #parse} reads it back. */
  static String print(Value.ServiceRange range) {
    int protocol = range.low().protocol();
    int low = range.low().detail();
    int high = range.high().detail();
    Optional<String> name =
        Service.PROTOCOLS.entrySet().stream()
            .filter(entry -> entry.getValue() == protocol)
            .map(Map.Entry::getKey)
            .findFirst();
    if (name.isEmpty()) {
      return "ip/" + protocol;
    }
    if (low == 0 && high == Service.lastDetail(protocol)) {
      return name.get();
    }
    if (protocol == Service.ICMP || protocol == Service.ICMPV6) {
      return name.get() + "/" + (low >> 8) + (low == high ? "." + (low & 255) : "");
    }
    return name.get() + "/" + low + (low == high ? "" : "-" + high);
  }
}
