package ironsieve.traffic.log;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import ironsieve.model.Service;
import ironsieve.traffic.tape.TrafficRecord;
import java.io.ByteArrayOutputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Lines of logs and flow records: what they say, and that the rest stays unsaid. */
class LogReadersTest {

  private static final ZoneId UTC = ZoneOffset.UTC;

  @Test
  void aMessageOfSyslogSaysWhatItsStructuredDataSays() {
    TrafficRecord record =
        SyslogLine.parse(
            "<134>1 2026-11-03T09:30:00.123Z gate1 sieve 12 CONN [origin@32473 ip=\"a]b\"]"
                + "[connection@32473 from=\"10.20.0.7\" to=\"2001:db8::9\" service=\"tcp/443\""
                + " person=\"ada\\\"x\" app=\"Chatterbay/post\" bytesUp=\"12\" count=\"3\"] text",
            UTC);
    assertThat(record.at()).isEqualTo(LocalDateTime.of(2026, 11, 3, 9, 30, 0, 123_000_000));
    assertThat(record.ends().from()).hasToString("10.20.0.7");
    assertThat(record.ends().service()).isEqualTo(new Service(Service.TCP, 443));
    assertThat(record.who().person()).contains("ada\"x");
    assertThat(record.what().application()).contains("Chatterbay");
    assertThat(record.what().feature()).contains("post");
    assertThat(record.times()).isEqualTo(3);
    assertThat(record.volume().up()).isEqualTo(12);
    assertThat(record.what().host()).isEmpty();
    assertThat(record.what().isHostKnown()).isFalse();
    assertThat(record.who().device()).isEmpty();
  }

  @Test
  void whatIsNoMessageIsRefusedWithItsColumn() {
    for (String bad :
        List.of(
            "",
            "no",
            "<134>1 a",
            "<134>x 2026-11-03T09:30:00Z h a p m -",
            "<134>1 2026-11-03T09:30:00Z h a p m -",
            "<134>1 2026-11-03T09:30:00Z h a p m [connection@1 from=\"1",
            "<134>1 2026-11-03T09:30:00Z h a p m [connection@1 from]",
            "<134>1 2026-11-03T09:30:00Z  a p m [connection@1 from=\"10.0.0.1\"]",
            "<0>17      [connection@][connection@] ")) {
      assertThatThrownBy(() -> SyslogLine.parse(bad, UTC))
          .as(bad)
          .isInstanceOf(SyslogLine.SyslogException.class)
          .hasMessageStartingWith("column ");
    }
    assertThatThrownBy(
            () ->
                SyslogLine.parse(
                    "<1>1 - h a p m [connection@1 from=\"x\" to=\"1.2.3.4\" time=\"now\"]", UTC))
        .isInstanceOf(LogRecords.FieldException.class)
        .hasMessageContaining("now");
  }

  @Test
  void timesAreReadInTheWaysLogsWriteThem() {
    LocalDateTime wanted = LocalDateTime.of(2026, 11, 3, 9, 30, 5);
    for (String text :
        List.of(
            "2026-11-03T09:30:05Z",
            "2026-11-03T11:30:05+02:00",
            "2026-11-03 09:30:05",
            "2026/11/03 09:30:05",
            "03.11.2026 09:30:05",
            "03/Nov/2026:09:30:05 +0000",
            "1793698205",
            "1793698205000",
            "1793698205000000",
            "1793698205000000000",
            "1793698205.0",
            "1.793698205E9",
            "2026-11-03T11:30:05+0200",
            "2026-11-03T11:30:05+02",
            "2026-11-03 11:30:05 +0200",
            "2026-11-03 09:30:05 UTC",
            "2026-11-03T09:30:05.000000+00:00",
            "2026/11/03 04:30:05 -0500",
            "03.11.2026 11:30:05 +02:00",
            "03.11.2026, 09:30:05",
            "03/Nov/2026:11:30:05 +0200",
            "[03/Nov/2026:09:30:05 +0000]",
            "03 Nov 2026 09:30:05")) {
      assertThat(LogRecords.time(text, UTC)).as(text).isEqualTo(wanted);
    }
    assertThat(LogRecords.time("1793698205.5", UTC)).isEqualTo(wanted.plusNanos(500_000_000));
    assertThat(LogRecords.time("2026-11-03 09:30:05,25", UTC))
        .isEqualTo(wanted.plusNanos(250_000_000));
    assertThat(LogRecords.time("2026-11-03 09:30", UTC)).isEqualTo(wanted.withSecond(0));
  }

  /** A time that is guessed decides rules with times wrongly, so it is refused. */
  @ParameterizedTest
  @ValueSource(
      strings = {
        "31.02.2026 09:30:05",
        "2026-02-31T09:30:05",
        "2026-02-29 09:30:05Z",
        "03/Foo/2026:09:30:05 +0000",
        "2026-11-03T25:30:05",
        "2026-11-03T09:30:05+99:00",
        "2026-11-03T09:30:05 elsewhere",
        "2026-11-03",
        "03/11/2026 09:30:05",
        "12345",
        "9999-12-31T23:59:00Z",
        "1969-12-31T23:59:00Z"
      })
  void whatIsNoTimeIsRefused(String text) {
    assertThatThrownBy(() -> LogRecords.time(text, UTC))
        .isInstanceOf(LogRecords.FieldException.class)
        .hasMessageStartingWith("time: ");
  }

  @Test
  void aPortMayBeWrittenAsANumberWithoutAFraction() {
    TrafficRecord record =
        LogRecords.of(
            Map.of(
                LogField.TIME, "2026-11-03T09:30:05Z",
                LogField.FROM, "10.0.0.1",
                LogField.TO, "192.0.2.1",
                LogField.PROTOCOL, "tcp",
                LogField.PORT, "443.0"),
            UTC);
    assertThat(record.ends().service().detail()).isEqualTo(443);
  }

  @Test
  void columnsAreGuessedByTheirNames() {
    LogMapping mapping =
        LogMapping.guess(
            List.of(
                "Start Time", "Src IP", "Dst IP", "dst_port", "Proto", "User", "Sent Bytes", "x"),
            UTC);
    assertThat(mapping.columns())
        .isEqualTo(
            Map.of(
                LogField.TIME,
                "Start Time",
                LogField.FROM,
                "Src IP",
                LogField.TO,
                "Dst IP",
                LogField.PORT,
                "dst_port",
                LogField.PROTOCOL,
                "Proto",
                LogField.PERSON,
                "User",
                LogField.BYTES_UP,
                "Sent Bytes"));
    assertThat(mapping.missing()).isEmpty();
  }

  /** Writes messages of IPFIX by what RFC 7011 says, and by nothing of the reader. */
  private static final class Exporter {
    private final ByteArrayOutputStream sets = new ByteArrayOutputStream();

    Exporter set(int id, byte[] body) throws IOException {
      DataOutputStream out = new DataOutputStream(sets);
      out.writeShort(id);
      out.writeShort(4 + body.length);
      out.write(body);
      return this;
    }

    byte[] message() throws IOException {
      ByteArrayOutputStream all = new ByteArrayOutputStream();
      DataOutputStream out = new DataOutputStream(all);
      out.writeShort(10);
      out.writeShort(16 + sets.size());
      out.writeInt(1_793_698_205);
      out.writeInt(0);
      out.writeInt(7);
      out.write(sets.toByteArray());
      return all.toByteArray();
    }
  }

  private static byte[] template(int id, int... elementsAndLengths) throws IOException {
    ByteArrayOutputStream bytes = new ByteArrayOutputStream();
    DataOutputStream out = new DataOutputStream(bytes);
    out.writeShort(id);
    out.writeShort(elementsAndLengths.length / 2);
    for (int value : elementsAndLengths) {
      out.writeShort(value);
    }
    return bytes.toByteArray();
  }

  private static byte[] flow(String application) throws IOException {
    ByteArrayOutputStream bytes = new ByteArrayOutputStream();
    DataOutputStream out = new DataOutputStream(bytes);
    out.writeInt(0x0A140007);
    out.writeInt(0xCB007109);
    out.writeByte(6);
    out.writeShort(443);
    out.writeLong(5_000);
    byte[] name = application.getBytes(StandardCharsets.UTF_8);
    out.writeByte(name.length);
    out.write(name);
    return bytes.toByteArray();
  }

  @Test
  void flowRecordsAreReadByTheirTemplate() throws IOException {
    byte[] template = template(256, 8, 4, 12, 4, 4, 1, 11, 2, 1, 8, 96, 65_535);
    Ipfix ipfix = new Ipfix(UTC);
    List<TrafficRecord> found = new ArrayList<>();
    byte[] early = new Exporter().set(256, flow("DNS")).message();
    ipfix.message("a", early, 0, early.length, found::add);
    assertThat(found).isEmpty();
    assertThat(ipfix.withoutTemplate()).isEqualTo(1);
    byte[] both =
        new Exporter()
            .set(2, template)
            .set(256, flow("Chatterbay/post"))
            .set(256, flow(""))
            .message();
    ipfix.message("a", both, 0, both.length, found::add);
    ipfix.message("b", early, 0, early.length, found::add);
    assertThat(found).hasSize(2);
    TrafficRecord first = found.get(0);
    assertThat(first.ends().from()).hasToString("10.20.0.7");
    assertThat(first.ends().to()).hasToString("203.0.113.9");
    assertThat(first.ends().service()).isEqualTo(new Service(Service.TCP, 443));
    assertThat(first.volume().up()).isEqualTo(5_000);
    assertThat(first.what().application()).contains("Chatterbay");
    assertThat(first.at()).isEqualTo(LocalDateTime.of(2026, 11, 3, 9, 30, 5));
    assertThat(found.get(1).what().application()).isEmpty();
    assertThat(ipfix.withoutTemplate()).isEqualTo(2);
    assertThat(ipfix.unreadable()).isZero();
  }

  @Test
  void noMessageHoweverCutBreaksTheReader() throws IOException {
    byte[] whole =
        new Exporter()
            .set(2, template(256, 8, 4, 12, 4, 4, 1, 11, 2, 1, 8, 96, 65_535))
            .set(256, flow("Chatterbay"))
            .message();
    for (int length = 0; length <= whole.length; length++) {
      byte[] cut = java.util.Arrays.copyOf(whole, length);
      if (length >= 4) {
        cut[2] = (byte) (length >> 8);
        cut[3] = (byte) length;
      }
      List<TrafficRecord> found = new ArrayList<>();
      new Ipfix(UTC).message("a", cut, 0, length, found::add);
      assertThat(found).hasSizeLessThanOrEqualTo(1);
    }
  }

  /** Tables from machines and people who speak other languages. */
  @ParameterizedTest
  @ValueSource(
      strings = {
        "Zeitstempel;Quell-IP;Ziel-IP;Protokoll;Zielport;Benutzer;Gesendet;Empfangen;Anwendung",
        "Horodatage;IP source;IP destination;Protocole;Port destination;Utilisateur;Envoyés;Reçus;App",
        "Fecha;IP origen;IP destino;Protocolo;Puerto destino;Usuario;Enviados;Recibidos;Aplicación",
        "Czas;Źródło;Cel;Protokół;Port docelowy;Użytkownik;Wysłane;Odebrane;Aplikacja"
      })
  void headingsInOtherLanguagesAreKnown(String headings) {
    List<String> names = List.of(headings.split(";"));
    assertThat(LogMapping.guess(names, ZoneOffset.UTC).columns())
        .isEqualTo(
            Map.of(
                LogField.TIME, names.get(0),
                LogField.FROM, names.get(1),
                LogField.TO, names.get(2),
                LogField.PROTOCOL, names.get(3),
                LogField.PORT, names.get(4),
                LogField.PERSON, names.get(5),
                LogField.BYTES_UP, names.get(6),
                LogField.BYTES_DOWN, names.get(7),
                LogField.APPLICATION, names.get(8)));
  }
}
