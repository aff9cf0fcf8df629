package ironsieve.server.change;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.TextNode;
import ironsieve.files.Contents;
import ironsieve.files.Documents.DecryptionRuleDoc;
import ironsieve.files.Documents.MetadataDoc;
import ironsieve.files.Documents.NoticeDoc;
import ironsieve.files.Documents.RatesDoc;
import ironsieve.files.Documents.RuleDoc;
import ironsieve.files.RecordKind;
import ironsieve.server.store.StoredJson;
import java.math.BigDecimal;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;

/** Changes between two states of a rulebase, and applying them. */
class RecordsTest {

  private final ObjectMapper json = StoredJson.exact(new ObjectMapper());
  private final Records records = new Records(json);

  private static Contents contents(String defaultVerdict, String notice) {
    Contents contents =
        Contents.empty(new Contents.Title("t", "T", defaultVerdict, new RatesDoc(1, 2)));
    contents.put(RecordKind.NOTICE, new NoticeDoc("Think", "ask", notice));
    return contents;
  }

  @Test
  void changesLeadFromOneStateToTheOtherAndBack() {
    Contents before = contents("deny", "sure?");
    Contents after = contents("allow", "really?");
    after.put(RecordKind.NOTICE, new NoticeDoc("No", "stop", ""));
    List<Change> changes = records.between(before, after);
    assertThat(changes).extracting(Change::kind).containsOnly("notice", "title");
    assertThat(records.with(before, changes)).isEqualTo(after);
    assertThat(records.with(after, changes.stream().map(Change::reversed).toList()))
        .isEqualTo(before);
    assertThatThrownBy(() -> records.with(after, changes))
        .isInstanceOf(ConflictException.class)
        .hasMessageStartingWith("notice");
  }

  @Test
  void anUndoKeepsWhatSomebodyElseChangedInTheSameRecord() {
    Contents named = rule("New name", "");
    List<Change> renamed = records.between(rule("Old name", ""), named);
    Contents noted = rule("New name", "Their note");
    assertThat(records.with(noted, renamed.stream().map(Change::reversed).toList()))
        .isEqualTo(rule("Old name", "Their note"));
    Contents renamedAgain = rule("Their name", "");
    assertThatThrownBy(
            () -> records.with(renamedAgain, renamed.stream().map(Change::reversed).toList()))
        .isInstanceOf(ConflictException.class);
  }

  private static Contents rule(String name, String note) {
    Contents contents = contents("deny", "x");
    contents.put(
        RecordKind.RULE,
        new RuleDoc(
            "r",
            "c",
            new BigDecimal("1.12345678901234567890123"),
            name,
            "on",
            Map.of(),
            "any",
            "deny",
            null,
            "logged",
            note,
            null));
    return contents;
  }

  @Test
  void aPositionOfManyDigitsComesBackFromTheJournalAsItWas() throws Exception {
    Contents before = rule("a", "");
    Contents after = rule("b", "");
    String written = json.writeValueAsString(records.between(before, after));
    Change[] read = json.readValue(written, Change[].class);
    assertThat(records.with(before, List.of(read))).isEqualTo(after);
  }

  @Test
  void aJournalFromBeforeThereWasMoreThanADefaultVerdictIsStillUndone() {
    Contents now = contents("allow", "sure?");
    Change old = new Change("last line", "last line", new TextNode("deny"), new TextNode("allow"));
    assertThat(records.with(now, List.of(old.reversed()))).isEqualTo(contents("deny", "sure?"));
  }

  @Test
  void aJournalInOlderWordsIsStillUndone() throws Exception {
    Contents now = contents("deny", "x");
    now.put(
        RecordKind.RULE,
        new RuleDoc(
            "r",
            "c",
            BigDecimal.ONE,
            "a",
            null,
            null,
            null,
            null,
            null,
            "not logged",
            null,
            new MetadataDoc("net", null, null)));
    now.put(
        RecordKind.DECRYPTION_RULE,
        new DecryptionRuleDoc("d", BigDecimal.ONE, "leave encrypted", Map.of(), ""));
    Change[] old =
        json.readValue(
            """
            [{"kind": "reading", "id": "d", "before": {"id": "d", "position": 1,
              "decision": "leave", "fields": {}, "note": ""}},
             {"kind": "rule", "id": "r", "before": {"id": "r", "chapter": "c", "position": 1,
              "name": "a", "logging": "quiet", "kept": {"owner": "net"}}}]
            """,
            Change[].class);
    Contents undone = records.with(now, List.of(old));
    assertThat(undone.records().get(RecordKind.DECRYPTION_RULE)).isEmpty();
    assertThat(undone.records().get(RecordKind.RULE)).isEmpty();
    Contents back = records.with(undone, Stream.of(old).map(Change::reversed).toList());
    assertThat(back.rules().get("r").metadata().owner()).isEqualTo("net");
    assertThat(back.decryption().get("d").decision()).isEqualTo("leave encrypted");
  }
}
