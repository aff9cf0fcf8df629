package ironsieve.server.edit;

import com.fasterxml.jackson.databind.ObjectMapper;
import ironsieve.files.Contents;
import ironsieve.files.Documents.ReadingDoc;
import ironsieve.files.FaultException;
import ironsieve.files.RecordKind;
import java.math.BigDecimal;
import java.util.Arrays;
import java.util.Map;
import java.util.stream.Collectors;

/** The shared parts of a rulebase that are saved and removed whole. */
enum PartKind {
  SHEET(RecordKind.SHEET),
  NOTICE(RecordKind.NOTICE),
  LANE(RecordKind.LANE),
  READING(RecordKind.READING);

  private static final ObjectMapper JSON = new ObjectMapper();

  private final RecordKind record;

  PartKind(RecordKind record) {
    this.record = record;
  }

  RecordKind record() {
    return record;
  }

  static PartKind of(Step step) {
    return Arrays.stream(values())
        .filter(kind -> kind.record.word().equals(step.partKind()))
        .findFirst()
        .orElseThrow(
            () ->
                new FaultException(
                    "step",
                    "partKind",
                    "\""
                        + step.partKind()
                        + "\" is none of "
                        + Arrays.stream(values())
                            .map(kind -> kind.record.word())
                            .collect(Collectors.joining(", "))));
  }

  /** Saves a part; a reading line without a place goes above all others. */
  void save(Contents contents, Map<String, Object> part) {
    Object doc;
    try {
      doc = JSON.convertValue(part, record.type());
    } catch (IllegalArgumentException e) {
      throw new FaultException("step", "part", "cannot be read: " + e.getMessage());
    }
    if (doc instanceof ReadingDoc line && line.position() == null) {
      doc =
          new ReadingDoc(
              line.id(),
              contents.readingInOrder().stream()
                  .findFirst()
                  .map(first -> first.position().subtract(BigDecimal.ONE))
                  .orElse(BigDecimal.ONE),
              line.decision(),
              line.fields(),
              line.note());
    }
    if (doc == null || record.id(doc) == null || record.id(doc).isBlank()) {
      throw new FaultException("step", "part", "a " + record.word() + " needs a name");
    }
    contents.put(record, doc);
  }
}
