package ironsieve.traffic.file;

import ironsieve.files.FaultException;
import ironsieve.model.Connection.Device;
import ironsieve.model.Posture;
import ironsieve.region.Address;
import ironsieve.traffic.log.LogRecords;
import ironsieve.traffic.log.SignInField;
import ironsieve.traffic.log.SignIns;
import ironsieve.traffic.tape.TrafficRecord;
import java.io.IOException;
import java.io.Reader;
import java.time.Duration;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.regex.Pattern;

/**
 * A list of sign-ins, as directories, dial-in servers and address servers write them: CSV or JSON
 * lines whose columns are told by their names.
 */
final class SignInTable {

  private static final int MOST = 2_000_000;
  private static final int SHOWN_FAULTS = 5;

  /** How logs say that somebody has gone. */
  private static final Pattern GONE =
      Pattern.compile(
          "(?i).*(log|sign)[ _-]?(out|off).*|stop(ped)?|end(ed)?|released?|disconnect(ed)?|out");

  private final SignIns signIns;
  private final LogRecords records;
  private final List<String> faults = new ArrayList<>();
  private Map<SignInField, String> columns;
  private long unread;

  private SignInTable(Duration longest, ZoneId zone) {
    signIns = new SignIns(longest);
    records = new LogRecords(zone);
  }

  /** What was read, and what is wrong with the first lines that could not be. */
  record Result(SignIns signIns, long unread, List<String> faults) {

    /** Hands records on with what is known of who was there. */
    Consumer<TrafficRecord> completing(Consumer<TrafficRecord> to) {
      return record -> to.accept(signIns.complete(record));
    }

    /** What is told of them beside a tape, once its records are complete. */
    List<String> notes() {
      List<String> told = new ArrayList<>();
      if (signIns.count() > 0 || unread > 0) {
        told.add(
            signIns.count()
                + " sign-ins say who was there for "
                + signIns.completed()
                + " connections");
        if (unread > 0) {
          told.add(unread + " lines of the sign-ins cannot be read");
        }
        told.addAll(faults);
      }
      return told;
    }
  }

  /**
   * Reads a list.
   *
   * @param longest how long somebody is taken for there who is not heard of again
   * @param zone in which times stand that say no offset
   * @throws FaultException if no column says when, where or who, or there are too many lines
   */
  static Result read(Reader reader, Duration longest, ZoneId zone) throws IOException {
    SignInTable table = new SignInTable(longest, zone);
    LogTable.each(reader, table::line);
    return new Result(table.signIns, table.unread, table.faults);
  }

  private void line(long number, LogTable.Row row) {
    if (columns == null) {
      columns = SignInField.guess(row.columns());
      demand(SignInField.TIME, row);
      demand(SignInField.ADDRESS, row);
      demand(SignInField.PERSON, row);
    }
    try {
      add(row);
    } catch (LogRecords.FieldException | IllegalArgumentException e) {
      unread++;
      if (faults.size() < SHOWN_FAULTS) {
        faults.add("sign-ins, line " + number + ", " + e.getMessage());
      }
    }
    if (signIns.count() > MOST) {
      throw new FaultException("sign-ins", "", "there are more than " + MOST);
    }
  }

  private void demand(SignInField field, LogTable.Row row) {
    if (!columns.containsKey(field)) {
      throw new FaultException(
          "sign-ins",
          "columns",
          "no column says the "
              + field.word()
              + "; they are "
              + String.join(", ", row.columns())
              + ", and should be time, address, person and, if known, device, until or event");
    }
  }

  private void add(LogTable.Row row) {
    LocalDateTime time = records.time(value(row, SignInField.TIME).orElse(null));
    Address address = Address.parse(value(row, SignInField.ADDRESS).orElse(""));
    if (value(row, SignInField.EVENT).filter(word -> GONE.matcher(word).matches()).isPresent()) {
      signIns.out(address, time);
      return;
    }
    String person =
        value(row, SignInField.PERSON)
            .orElseThrow(() -> new IllegalArgumentException("nobody is named"));
    signIns.in(
        address,
        time,
        person,
        value(row, SignInField.DEVICE).map(kind -> new Device(kind, Posture.UNKNOWN)),
        value(row, SignInField.UNTIL).map(records::time));
  }

  private Optional<String> value(LogTable.Row row, SignInField field) {
    return Optional.ofNullable(columns.get(field))
        .map(row::value)
        .map(String::strip)
        .filter(text -> !text.isEmpty() && !text.equals("-"));
  }
}
