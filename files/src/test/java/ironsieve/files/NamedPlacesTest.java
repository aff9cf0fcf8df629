package ironsieve.files;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.files.Documents.AcceptedDoc;
import ironsieve.files.Documents.ChapterDoc;
import ironsieve.files.Documents.DecryptionRuleDoc;
import ironsieve.files.Documents.FieldDoc;
import ironsieve.files.Documents.RuleDoc;
import ironsieve.files.Documents.SetDoc;
import ironsieve.files.Documents.SheetDoc;
import ironsieve.files.Documents.SheetLineDoc;
import ironsieve.model.FieldName;
import java.lang.reflect.ParameterizedType;
import java.lang.reflect.RecordComponent;
import java.lang.reflect.Type;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import org.junit.jupiter.api.Test;

/**
 * A name that is changed is changed wherever it may stand, and what was accepted stays accepted.
 */
class NamedPlacesTest {

  private static RuleDoc rule(Map<String, FieldDoc> fields) {
    return new RuleDoc(
        "r1", "c", BigDecimal.ONE, "Rule", "on", fields, "any", "allow", null, "logged", "", null);
  }

  /**
   * A rulebase that names a set of its kind in every field there is, of rules and of decryption.
   */
  private static Contents everywhere() {
    Map<String, FieldDoc> fields = new TreeMap<>();
    for (FieldName name : FieldName.values()) {
      fields.put(name.key(), new FieldDoc("is", List.of("set Old")));
    }
    Contents contents = Contents.empty(new Contents.Title("b", "B", "deny", null));
    contents.put(RecordKind.CHAPTER, new ChapterDoc("c", BigDecimal.ONE, "C", ""));
    contents.put(RecordKind.RULE, rule(fields));
    contents.put(
        RecordKind.DECRYPTION_RULE,
        new DecryptionRuleDoc("d1", BigDecimal.ONE, "decrypt", fields, ""));
    for (String kind : kinds()) {
      contents.put(RecordKind.SET, new SetDoc(kind, "Holder", List.of("set Old"), ""));
    }
    contents.put(
        RecordKind.SHEET,
        new SheetDoc("S", List.of(new SheetLineDoc("set Old", "deny")), "allow", ""));
    return contents;
  }

  private static Set<String> kinds() {
    Set<String> kinds = new TreeSet<>();
    for (FieldName name : FieldName.values()) {
      kinds.add(name.kind().word());
    }
    return kinds;
  }

  @Test
  void aSetIsRenamedWhereverItStands() {
    Contents renamed = everywhere();
    for (String kind : kinds()) {
      renamed = Renaming.ofOwnSet(renamed, kind, "Old", "New");
    }
    assertThat(renamed.records().toString()).doesNotContain("set Old");
    List<NamedPlaces.Place> places = new ArrayList<>();
    NamedPlaces.each(renamed, places::add);
    assertThat(places).allMatch(place -> place.text().equals("set New"));
  }

  /**
   * Fails for a record that holds values and is forgotten by the walk: each kind of record with
   * fields, or with values of a kind, is among those that the walk comes to.
   */
  @Test
  void noKindOfRecordWithValuesIsForgotten() {
    Set<RecordKind> walked = new HashSet<>();
    NamedPlaces.each(everywhere(), place -> walked.add(place.record()));
    for (RecordKind kind : RecordKind.values()) {
      if (holdsValues(kind.type(), new HashSet<>())) {
        assertThat(walked).as("the walk comes to %s", kind).contains(kind);
      }
    }
    assertThat(walked).hasSize(4);
  }

  private static boolean holdsValues(Type type, Set<Type> seen) {
    if (!seen.add(type)) {
      return false;
    }
    if (type instanceof ParameterizedType of) {
      for (Type argument : of.getActualTypeArguments()) {
        if (holdsValues(argument, seen)) {
          return true;
        }
      }
      return false;
    }
    if (!(type instanceof Class<?> of) || !of.isRecord()) {
      return false;
    }
    for (RecordComponent component : of.getRecordComponents()) {
      if (Set.of("values", "about").contains(component.getName())
          || holdsValues(component.getGenericType(), seen)) {
        return true;
      }
    }
    return false;
  }

  @Test
  void whatWasAcceptedStaysAcceptedWhenASetGetsAnotherName() {
    Contents contents = everywhere();
    RuleDoc rule = contents.rules().get("r1");
    contents.put(
        RecordKind.ACCEPTED,
        new AcceptedDoc("r1", "too wide", RulePrint.of(rule), "It is for all.", "ada"));
    Contents renamed = Renaming.ofOwnSet(contents, "network", "Old", "New");
    AcceptedDoc accepted = renamed.accepted().values().iterator().next();
    assertThat(RulePrint.isOf(accepted, renamed.rules().get("r1"))).isTrue();
    assertThat(accepted.reason()).isEqualTo("It is for all.");
    // A rule that says something else is not what was accepted.
    assertThat(RulePrint.isOf(accepted, rule)).isFalse();
  }

  /** As the first version stored it: an example that must be recognized for ever. */
  @Test
  void anAcceptanceOfTheFirstVersionIsRecognized() {
    RuleDoc rule =
        rule(
            Map.of(
                "from.zones", new FieldDoc("is", List.of("Offices", "Ships")),
                "using.applications", new FieldDoc("is not", List.of("Chatterbay/upload"))));
    String stored =
        "on \u00b7 {from.zones=FieldDoc[sense=is, values=[Offices, Ships]],"
            + " using.applications=FieldDoc[sense=is not, values=[Chatterbay/upload]]}"
            + " \u00b7 any \u00b7 allow \u00b7 null \u00b7 logged";
    assertThat(RulePrint.isOf(new AcceptedDoc("r1", "too wide", stored, "", "ada"), rule)).isTrue();
    assertThat(RulePrint.of(rule))
        .isEqualTo(
            "2 {\"fields\":{\"from.zones\":{\"is\":[\"Offices\",\"Ships\"]},"
                + "\"using.applications\":{\"is not\":[\"Chatterbay/upload\"]}},"
                + "\"logging\":\"logged\",\"ports\":\"any\",\"sheet\":\"\",\"state\":\"on\","
                + "\"verdict\":\"allow\"}");
  }
}
