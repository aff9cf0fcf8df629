package ironsieve.traffic.file;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import ironsieve.files.FaultException;
import ironsieve.model.Connection.Device;
import ironsieve.model.Posture;
import ironsieve.traffic.tape.TrafficRecord;
import java.io.IOException;
import java.io.Reader;
import java.io.StringReader;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Tables and JSON as somebody's exporter writes them, whatever they are made of. */
class LogTableTest {

  private static final String ROW = "2026-11-20T09:00:00Z,10.20.0.7,192.0.2.40,tcp,443";
  private static final String OBJECT =
      "{\"time\":\"2026-11-20T09:00:00Z\",\"src\":{\"ip\":\"10.20.0.7\"},"
          + "\"dst_ip\":\"192.0.2.40\",\"protocol\":\"tcp\",\"dst_port\":443,\"note\":\"%s\"}";

  private static List<TrafficRecord> read(Reader text) throws IOException {
    List<TrafficRecord> records = new ArrayList<>();
    LogTable.Result result =
        new LogTable(ZoneOffset.UTC).read("log", text, Optional.empty(), records::add);
    assertThat(result.faults()).isEmpty();
    return records;
  }

  private static List<TrafficRecord> read(String text) throws IOException {
    return read(new StringReader(text));
  }

  @ParameterizedTest
  @ValueSource(ints = {1, 70_000, 1_000_000})
  void oneArrayOfObjectsIsReadHoweverItsLinesAreBroken(int letters) throws IOException {
    String object =
        OBJECT.formatted("x".repeat(letters)).replace("\"src\":{\"ip\":", "\"src_ip\":");
    String plain = object.replace("\"10.20.0.7\"}", "\"10.20.0.7\"");
    assertThat(read("[" + plain + ",\n\n" + plain + "]")).hasSize(2);
    assertThat(read("\uFEFF [\n" + plain + "\n]\n")).hasSize(1);
    assertThat(read(plain + "\n" + plain)).hasSize(2);
  }

  @Test
  void anArrayThatEndsEarlyIsRefusedWithItsPlace() {
    assertThatThrownBy(() -> read("[" + OBJECT.formatted("x")))
        .isInstanceOf(FaultException.class)
        .hasMessageContaining("object");
  }

  @Test
  void aHeadingInQuotesMayBeLongerThanWhatIsReadAtOnce() throws IOException {
    String wide =
        "time,\"source ip\",destination ip,protocol,destination port,\"" + "x".repeat(90_000);
    assertThat(read(wide + "\"\n" + ROW + ",1\n" + ROW + ",2\n")).hasSize(2);
  }

  @Test
  void theHealthOfADeviceIsReadFromItsOwnColumnOrBesideItsKind() throws IOException {
    String head = "time,source ip,destination ip,protocol,destination port,device,%s\n";
    assertThat(read(head.formatted("compliant") + ROW + ",laptop,yes\n" + ROW + ",laptop,No\n"))
        .extracting(record -> record.who().device().orElseThrow())
        .containsExactly(
            new Device("laptop", Posture.HEALTHY), new Device("laptop", Posture.UNHEALTHY));
    assertThat(read(head.formatted("x") + ROW + ",\"laptop, unhealthy\",\n"))
        .extracting(record -> record.who().device().orElseThrow())
        .containsExactly(new Device("laptop", Posture.UNHEALTHY));
    LogTable.Result result =
        new LogTable(ZoneOffset.UTC)
            .read(
                "log",
                new StringReader(head.formatted("posture") + ROW + ",laptop,perhaps\n"),
                Optional.empty(),
                record -> {});
    assertThat(result.faults().toString()).contains("line 2", "\"perhaps\" is not healthy");
  }

  /** Letters without an end, made as they are read. */
  private static Reader endless(String head, String body) {
    return new Reader() {
      private int at;

      @Override
      public int read(char[] into, int from, int most) {
        for (int i = 0; i < most; i++, at++) {
          into[from + i] =
              at < head.length()
                  ? head.charAt(at)
                  : body.charAt((at - head.length()) % body.length());
        }
        return most;
      }

      @Override
      public void close() {
        // Nothing is open.
      }
    };
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "time,source ip,destination ip,protocol,destination port\n2026",
        "time,source ip,destination ip,protocol,destination port\n\"never closed\nnor here ",
        "{\"time\":\"",
        "[{\"time\":\"",
        "time"
      })
  void whatDoesNotEndIsRefusedAndNotHeldInMemory(String head) {
    String body = head.contains("never") ? "x\n" : "x";
    assertThatThrownBy(() -> read(endless(head, body)))
        .isInstanceOf(FaultException.class)
        .hasMessageContaining("1,048,576 letters");
  }
}
