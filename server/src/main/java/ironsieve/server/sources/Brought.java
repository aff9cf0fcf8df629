package ironsieve.server.sources;

import ironsieve.files.WorkspaceKind;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;

/**
 * What a source has now.
 *
 * @param records all records it has, by their kind; of a kind it says nothing of there is no entry
 * @param leftOut what of it was not taken, in a sentence each
 * @param told what to say of it where it brings no records, such as which editions came; else empty
 * @param mark what to send the next time, to be told only of what is new
 */
public record Brought(
    Map<WorkspaceKind, List<Object>> records, List<String> leftOut, String told, Mark mark) {

  public Brought {
    Map<WorkspaceKind, List<Object>> copied = new EnumMap<>(WorkspaceKind.class);
    records.forEach((kind, docs) -> copied.put(kind, List.copyOf(docs)));
    records = copied;
    leftOut = List.copyOf(leftOut);
  }

  static Brought of(Map<WorkspaceKind, List<Object>> records, List<String> leftOut, Mark mark) {
    return new Brought(records, leftOut, "", mark);
  }

  /**
   * How a web server marked what it sent.
   *
   * @param address where it was; a mark of another address means nothing
   */
  public record Mark(String address, String etag, String lastModified) {

    static final Mark NONE = new Mark("", "", "");
  }
}
