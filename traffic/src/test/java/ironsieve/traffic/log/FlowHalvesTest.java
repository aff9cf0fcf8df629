package ironsieve.traffic.log;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.model.Service;
import ironsieve.model.Tape.Volume;
import ironsieve.region.Address;
import ironsieve.traffic.tape.TrafficRecord;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Random;
import net.jqwik.api.Example;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;

/** Records of one direction become the connections that they are halves of. */
class FlowHalvesTest {

  private static final LocalDateTime START = LocalDateTime.of(2026, 11, 3, 9, 30);

  private static TrafficRecord record(
      LocalDateTime at, String from, String to, int port, long up, long down) {
    return new TrafficRecord(
        at,
        new TrafficRecord.Ends(
            Address.parse(from), Address.parse(to), new Service(Service.TCP, port)),
        TrafficRecord.Who.UNSAID,
        TrafficRecord.What.UNSAID,
        1,
        new Volume(up, down));
  }

  /** However the halves are shuffled, the connections are those there were, and no others. */
  @Property(tries = 300)
  void shuffledHalvesAreTheConnectionsTheyCameFrom(@ForAll long seed) {
    Random random = new Random(seed);
    List<TrafficRecord> connections = new ArrayList<>();
    List<Runnable> halves = new ArrayList<>();
    FlowHalves joining = new FlowHalves();
    List<TrafficRecord> found = new ArrayList<>();
    for (int i = 0; i < 30; i++) {
      String client = "10.0.0." + (1 + random.nextInt(200));
      String server = "203.0.113." + (1 + random.nextInt(5));
      int port = List.of(22, 80, 443, 5432, 8443).get(random.nextInt(5));
      // Each connection has a port of its own.
      int clientPort = 40_000 + i;
      LocalDateTime at = START.plusSeconds(random.nextInt(200));
      TrafficRecord whole =
          record(at, client, server, port, random.nextInt(9_000), random.nextInt(9_000));
      connections.add(whole);
      halves.add(
          () ->
              joining.add(
                  record(at, client, server, port, whole.volume().up(), 0),
                  clientPort,
                  found::add));
      halves.add(
          () ->
              joining.add(
                  record(
                      at.plusNanos(random.nextInt(1_000)),
                      server,
                      client,
                      clientPort,
                      whole.volume().down(),
                      0),
                  port,
                  found::add));
    }
    Collections.shuffle(halves, random);
    halves.forEach(Runnable::run);
    joining.finish(found::add);
    assertThat(found).containsExactlyInAnyOrderElementsOf(connections);
    assertThat(joining.turned()).isZero();
  }

  @Example
  void anAnswerAloneIsAConnectionTheOtherWayRound() {
    FlowHalves joining = new FlowHalves();
    List<TrafficRecord> found = new ArrayList<>();
    joining.add(record(START, "203.0.113.9", "10.0.0.1", 51_000, 700, 0), 443, found::add);
    joining.finish(found::add);
    assertThat(found).containsExactly(record(START, "10.0.0.1", "203.0.113.9", 443, 0, 700));
    assertThat(joining.turned()).isEqualTo(1);
  }

  @Example
  void whatPortsDoNotTellIsToldByWhichHalfBeganFirst() {
    FlowHalves joining = new FlowHalves();
    List<TrafficRecord> found = new ArrayList<>();
    joining.add(
        record(START.plusSeconds(1), "10.0.0.2", "10.0.0.1", 50_001, 20, 0), 50_002, found::add);
    joining.add(record(START, "10.0.0.1", "10.0.0.2", 50_002, 10, 0), 50_001, found::add);
    assertThat(found).containsExactly(record(START, "10.0.0.1", "10.0.0.2", 50_002, 10, 20));
  }

  @Example
  void halvesFarApartAreTwoConnectionsAndWhatTellsNothingIsCounted() {
    FlowHalves joining = new FlowHalves();
    List<TrafficRecord> found = new ArrayList<>();
    joining.add(record(START, "10.0.0.1", "10.0.0.2", 50_002, 10, 0), 50_001, found::add);
    joining.add(
        record(START.plusHours(1), "10.0.0.2", "10.0.0.1", 50_001, 20, 0), 50_002, found::add);
    joining.finish(found::add);
    assertThat(found).hasSize(2);
    assertThat(joining.undirected()).isEqualTo(2);
  }
}
