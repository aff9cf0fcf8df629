package ironsieve.traffic.log;

import java.text.Normalizer;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * What a line of a log can say of a connection, with the names that columns commonly have for it.
 */
public enum LogField {
  TIME(
      "time",
      "timestamp",
      "date",
      "start",
      "starttime",
      "eventtime",
      "ts",
      "at",
      "receivetime",
      "zeitstempel",
      "zeit",
      "datum",
      "uhrzeit",
      "zeitpunkt",
      "beginn",
      "horodatage",
      "heure",
      "debut",
      "fecha",
      "hora",
      "fechayhora",
      "czas",
      "znacznikczasu"),
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
      "idorigh",
      "quelle",
      "quellip",
      "quelladresse",
      "von",
      "ipsource",
      "adressesource",
      "origen",
      "iporigen",
      "direccionorigen",
      "zrodlo",
      "ipzrodlowe",
      "adreszrodlowy"),
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
      "ziel",
      "zielip",
      "zieladresse",
      "nach",
      "ipdestination",
      "adressedestination",
      "destino",
      "ipdestino",
      "direcciondestino",
      "cel",
      "ipdocelowe",
      "adresdocelowy",
      "serverip",
      "server"),
  PROTOCOL(
      "protocol",
      "proto",
      "ipprotocol",
      "protokoll",
      "protocole",
      "protocolo",
      "protokol",
      "transport"),
  PORT(
      "port",
      "dport",
      "dstport",
      "destport",
      "destinationport",
      "serverport",
      "respp",
      "zielport",
      "portdestination",
      "portdedestination",
      "puertodestino",
      "puerto",
      "portdocelowy",
      "idrespp"),
  SERVICE("service", "svc", "dienst", "servicio", "usluga"),
  PERSON(
      "person",
      "user",
      "username",
      "login",
      "srcuser",
      "benutzer",
      "benutzername",
      "nutzer",
      "anwender",
      "utilisateur",
      "usuario",
      "uzytkownik",
      "account"),
  DEVICE("device", "devicekind", "devicetype", "gerat", "appareil", "dispositivo", "urzadzenie"),
  HEALTH(
      "device health",
      "devicehealth",
      "health",
      "posture",
      "deviceposture",
      "compliance",
      "compliant",
      "devicecompliance"),
  HOST(
      "host",
      "hostname",
      "servername",
      "sni",
      "domain",
      "url",
      "fqdn",
      "zielhost",
      "rechner",
      "hote",
      "anfitrion"),
  APPLICATION(
      "application",
      "app",
      "appname",
      "applicationname",
      "anwendung",
      "applikation",
      "aplicacion",
      "aplikacja"),
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
      "origbytes",
      "gesendet",
      "bytesgesendet",
      "octetsenvoyes",
      "envoyes",
      "bytesenviados",
      "enviados",
      "wyslane"),
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
      "respbytes",
      "empfangen",
      "bytesempfangen",
      "octetsrecus",
      "recus",
      "bytesrecibidos",
      "recibidos",
      "odebrane"),
  COUNT(
      "count",
      "times",
      "connections",
      "sessions",
      "repeat",
      "repeatcount",
      "anzahl",
      "verbindungen",
      "connexions",
      "conexiones",
      "polaczenia");

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

  /** What a column of this name commonly says. */
  static Optional<LogField> named(String column) {
    return Arrays.stream(values()).filter(field -> field.isNamed(column)).findFirst();
  }

  /** The name of a column as it is compared: its small letters and digits, without accents. */
  static String bare(String column) {
    return Normalizer.normalize(column.toLowerCase(Locale.ROOT), Normalizer.Form.NFD)
        .replace("ß", "ss")
        .replace('\u0142', 'l')
        .replaceAll("[^a-z0-9]", "");
  }

  /** What a word stands for. */
  public static Optional<LogField> of(String word) {
    return Arrays.stream(values()).filter(field -> field.word.equals(word)).findFirst();
  }
}
