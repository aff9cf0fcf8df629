package ironsieve.traffic.log;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/**
 * What a line of a log can say of a connection, with the names that columns commonly have for it.
 */
public enum LogField {
  TIME("time", "timestamp", "date", "start", "starttime", "eventtime", "ts", "at", "receivetime"),
  FROM(
      "from",
      "src",
      "source",
      "srcip",
      "sourceip",
      "saddr",
      "srcaddr",
      "srcaddress",
      "sourceaddress",
      "clientip",
      "client",
      "origh",
      "idorigh"),
  TO(
      "to",
      "dst",
      "dest",
      "destination",
      "dstip",
      "destip",
      "destinationip",
      "daddr",
      "dstaddr",
      "dstaddress",
      "destaddress",
      "destinationaddress",
      "resph",
      "idresph",
      "serverip",
      "server"),
  PROTOCOL("protocol", "proto", "ipprotocol", "transport"),
  PORT("port", "dport", "dstport", "destport", "destinationport", "serverport", "respp", "idrespp"),
  SERVICE("service", "svc"),
  PERSON("person", "user", "username", "login", "srcuser", "account"),
  DEVICE("device", "devicekind", "devicetype"),
  HEALTH(
      "device health",
      "devicehealth",
      "health",
      "posture",
      "deviceposture",
      "compliance",
      "compliant",
      "devicecompliance"),
  HOST("host", "hostname", "servername", "sni", "domain", "url", "fqdn"),
  APPLICATION("application", "app", "appname", "applicationname"),
  FEATURE("feature", "function", "subapp"),
  BYTES_UP(
      "bytes up",
      "up",
      "bytesup",
      "sent",
      "bytessent",
      "sentbytes",
      "bytesout",
      "outbytes",
      "bytestoserver",
      "flowbytestoserver",
      "origbytes"),
  BYTES_DOWN(
      "bytes down",
      "down",
      "bytesdown",
      "received",
      "bytesreceived",
      "receivedbytes",
      "bytesin",
      "inbytes",
      "bytestoclient",
      "flowbytestoclient",
      "respbytes"),
  COUNT("count", "times", "connections", "sessions", "repeat", "repeatcount");

  private final String word;
  private final List<String> names;

  LogField(String word, String... names) {
    this.word = word;
    this.names = List.of(names);
  }

  /** The word for it. */
  public String word() {
    return word;
  }

  /** Whether a column of this name commonly says it. */
  boolean isNamed(String column) {
    String bare = bare(column);
    return bare.equals(word.replace(" ", "")) || names.contains(bare);
  }

  /** The name of a column as it is compared: its small letters and digits. */
  static String bare(String column) {
    return column.toLowerCase(java.util.Locale.ROOT).replaceAll("[^a-z0-9]", "");
  }

  /** What a word stands for. */
  public static Optional<LogField> of(String word) {
    return Arrays.stream(values()).filter(field -> field.word.equals(word)).findFirst();
  }
}
