package ironsieve.server.store;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.databind.JsonNode;

/**
 * One record before and after an edit, as the journal keeps it.
 *
 * @param kind {@code rule}, {@code chapter}, {@code set}, {@code promise} or {@code default
 *     verdict}
 * @param id the record's id
 * @param before null if it was not there
 * @param after null if it is no longer there
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record Change(String kind, String id, JsonNode before, JsonNode after) {

  /** The change that takes this one back. */
  public Change reversed() {
    return new Change(kind, id, after, before);
  }
}
