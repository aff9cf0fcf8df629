package ironsieve.traffic.tape;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.model.Connection.Device;
import ironsieve.model.Environment;
import ironsieve.model.Posture;
import ironsieve.model.Service;
import ironsieve.model.Tape;
import ironsieve.model.Tape.Unsaid;
import ironsieve.model.Tape.Volume;
import ironsieve.recorded.LineBlock;
import ironsieve.recorded.TapeColumns;
import ironsieve.region.Address;
import ironsieve.traffic.DemoSignatures;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;

/** Records in the words of the company; what nobody here knows makes nothing up. */
class TapeMakerTest {

  private static final Environment HERE =
      DemoSignatures.folder().environment(LocalDate.of(2026, 11, 23));
  private static final LocalDateTime AT = LocalDateTime.of(2026, 11, 3, 9, 30, 20);

  private static TrafficRecord record(String from, String to, String person, String application) {
    return new TrafficRecord(
        AT,
        new TrafficRecord.Ends(
            Address.parse(from), Address.parse(to), new Service(Service.TCP, 443)),
        new TrafficRecord.Who(
            Optional.ofNullable(person),
            false,
            Optional.of(new Device("company laptop", Posture.UNKNOWN))),
        new TrafficRecord.What(
            Optional.empty(),
            true,
            Optional.ofNullable(application),
            Optional.empty(),
            Optional.empty(),
            Optional.empty()),
        2,
        new Volume(10, 20));
  }

  /** What was made, with its lines. */
  private record Result(List<Tape.Line> lines, Map<String, Long> unknown, long leftOut) {}

  private static Result made(TrafficRecord... records) {
    List<LineBlock> blocks = new ArrayList<>();
    TapeMaker maker = new TapeMaker(HERE, blocks::add);
    for (TrafficRecord one : records) {
      maker.add(one);
    }
    // What is told before the end is what is told at the end.
    List<LineBlock> rest = new ArrayList<>();
    TapeMaker.Made soFar = maker.soFar(rest::add);
    TapeMaker.Made made = maker.finish();
    List<Tape.Line> lines = TapeColumns.of("t", made.built(), blocks, 0).tape().lines();
    assertThat(TapeColumns.of("t", soFar.built(), rest, 0).tape().lines()).isEqualTo(lines);
    return new Result(lines, made.unknown(), made.leftOut());
  }

  @Test
  void equalConnectionsAreOneLineWithTheirCountAndBytes() {
    Result made =
        made(
            record("10.20.12.40", "203.0.113.9", "ines.halloran", "chatterbay"),
            record("10.20.12.40", "203.0.113.9", "ines.halloran", "Chatterbay"),
            record("10.20.12.40", "203.0.113.9", null, "Chatterbay"));
    assertThat(made.lines()).hasSize(2);
    Tape.Line first = made.lines().get(0);
    assertThat(first.times()).isEqualTo(4);
    assertThat(first.volume()).isEqualTo(new Volume(20, 40));
    assertThat(first.connection().from().place().zone()).isEqualTo("Offices");
    assertThat(first.connection().to().zone()).isEqualTo("Internet");
    assertThat(first.connection().at()).isEqualTo(AT.withSecond(0));
    assertThat(first.connection().using().carrier()).contains("TLS");
    assertThat(first.unsaid()).isEmpty();
    assertThat(made.lines().get(1).unsaid()).containsExactly(Unsaid.PERSON);
  }

  @Test
  void loginsAreFoundWithADomainBeforeOrBehindThem() {
    for (String login :
        new String[] {
          "HARBOUR\\ines.halloran", "ines.halloran@saltmere.example", "INES.HALLORAN"
        }) {
      Result made = made(record("10.20.12.40", "203.0.113.9", login, null));
      assertThat(made.lines().get(0).connection().from().person())
          .as(login)
          .contains("ines.halloran");
    }
  }

  @Test
  void whatIsNotKnownHereIsUnsaidAndCounted() {
    Result made =
        made(
            record("10.20.12.40", "203.0.113.9", "stranger", "Seaweed"),
            record("10.20.12.40", "2001:db8::9", null, null));
    assertThat(made.lines()).hasSize(1);
    assertThat(made.lines().get(0).unsaid())
        .containsExactlyInAnyOrder(Unsaid.PERSON, Unsaid.APPLICATION);
    assertThat(made.unknown()).containsOnlyKeys("person stranger", "application Seaweed");
    assertThat(made.leftOut()).isEqualTo(2);
  }
}
