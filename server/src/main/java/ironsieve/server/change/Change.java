package ironsieve.server.change;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;

/**
 * One record before and after an edit, as a journal keeps it.
 *
 * @param rulebase the rulebase whose record it is, where a change of the workspace reaches into
 *     one; null for a record of what the journal is of
 * @param kind the word of a {@link ironsieve.files.RecordKind} or a {@link
 *     ironsieve.files.WorkspaceKind}, or another word that its journal knows
 * @param id the record's id
 * @param before null if it was not there
 * @param after null if it is no longer there
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record Change(String rulebase, String kind, String id, JsonNode before, JsonNode after) {

  /** The word for a new name of something in the workspace, for what has no journal of its own. */
  public static final String NAME = "name";

  /** The member of such a change that says what has the name, by the word of its kind. */
  public static final String OF = "of";

  /** How journals of older versions said of which rulebase a record is. */
  private static final String OLDER_MARK = " of rulebase ";

  /** How they said what has another name. */
  private static final String OLDER_NAME = "name of ";

  public Change {
    int mark = kind == null ? -1 : kind.indexOf(OLDER_MARK);
    if (mark >= 0) {
      rulebase = kind.substring(mark + OLDER_MARK.length());
      kind = kind.substring(0, mark);
    }
    if (kind != null && kind.startsWith(OLDER_NAME)) {
      String named = kind.substring(OLDER_NAME.length());
      before = saying(named, before);
      after = saying(named, after);
      kind = NAME;
    }
  }

  private static JsonNode saying(String named, JsonNode doc) {
    return doc instanceof ObjectNode object ? object.deepCopy().put(OF, named) : doc;
  }

  /** A change of a record of what its journal is of. */
  public Change(String kind, String id, JsonNode before, JsonNode after) {
    this(null, kind, id, before, after);
  }

  /** The same change, of a record of a rulebase. */
  public Change of(String itsRulebase) {
    return new Change(itsRulebase, kind, id, before, after);
  }

  /** The change that takes this one back. */
  public Change reversed() {
    return new Change(rulebase, kind, id, after, before);
  }
}
