package ironsieve.traffic.tape;

import ironsieve.model.Service;
import ironsieve.model.Tape.Volume;
import ironsieve.traffic.identify.Seen;
import ironsieve.traffic.protocol.ConnectionFacts;
import ironsieve.traffic.signature.Unit;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** Connections of a capture as records. */
public final class SeenRecords {

  private SeenRecords() {}

  /**
   * The records of one connection: one for each request that differs, or one. How much went over it
   * stands in the first.
   *
   * @param zone whose local time it is
   * @param keepsOpened whether what was opened with keys goes into samples; otherwise only what
   *     anybody on the way saw does, and where more was recognised by what was opened, nothing
   */
  public static List<TrafficRecord> of(Seen seen, ZoneId zone, boolean keepsOpened) {
    ConnectionFacts shown = seen.shown();
    List<TrafficRecord> records = new ArrayList<>();
    TrafficRecord.Ends ends =
        new TrafficRecord.Ends(seen.ends().client(), seen.ends().server(), seen.ends().service());
    Volume volume = new Volume(seen.volume().octetsUp(), seen.volume().octetsDown());
    LocalDateTime at = LocalDateTime.ofInstant(seen.first(), zone);
    List<Unit> units = Unit.of(shown);
    for (int i = 0; i < units.size(); i++) {
      // A stranger's answer to a question that was not seen shows nothing of what was asked.
      boolean isSilent =
          shown.facts().isEmpty()
              && shown.requests().isEmpty()
              && Service.hasPorts(seen.ends().service().protocol());
      Seen.Use use = seen.useOf().get(i);
      records.add(
          new TrafficRecord(
              at,
              ends,
              TrafficRecord.Who.UNSAID,
              new TrafficRecord.What(
                  seen.host(),
                  !isSilent && !shown.mayHideName() && !shown.isBroken(),
                  use.application(),
                  use.feature(),
                  use.carrier(),
                  isSilent ? Optional.empty() : sample(shown, units.get(i), use, keepsOpened)),
              shown.requests().isEmpty() ? 1 : shown.requests().get(i).times(),
              i == 0 ? volume : Volume.NONE));
    }
    return records;
  }

  private static Optional<Unit> sample(
      ConnectionFacts shown, Unit unit, Seen.Use use, boolean keepsOpened) {
    if (!shown.isOpened() || keepsOpened) {
      return Optional.of(unit);
    }
    // A sample decides what its connection is called from then on, so it must not know less.
    boolean isRecognised =
        use.application().filter(name -> !shown.layers().contains(name)).isPresent();
    return isRecognised ? Optional.empty() : Optional.of(new Unit(shown.unopened(), List.of()));
  }
}
