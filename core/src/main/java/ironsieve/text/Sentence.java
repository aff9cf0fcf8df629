package ironsieve.text;

import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.Rule;
import ironsieve.model.Value;
import ironsieve.model.Verdict;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;

/** What a rule claims, as a sentence a person would say. */
public final class Sentence {

  private Sentence() {}

  /** The whole rule, such as {@code Allow anybody from Offices to anywhere using Hullmail.} */
  public static String of(Rule rule) {
    return verb(rule.then().verdict())
        + " "
        + claim(rule)
        + rule.then().outcome().lane().map(lane -> ", in lane " + lane).orElse("")
        + rule.then().outcome().notice().map(notice -> ", with notice " + notice).orElse("")
        + rule.then().sheet().map(sheet -> ", by usage sheet " + sheet).orElse("")
        + ".";
  }

  private static String verb(Verdict verdict) {
    return switch (verdict) {
      case ALLOW -> "Allow";
      case DENY -> "Deny";
      case REJECT -> "Reject";
      case ASK -> "Ask before allowing";
      case STOP -> "Stop, and tell";
      case ENROL -> "Stop until the device is in order:";
    };
  }

  /** What the rule is about, without what happens. */
  public static String claim(Rule rule) {
    Rule.Match match = rule.match();
    List<String> parts = new ArrayList<>();
    parts.add(phrase(match, FieldName.PEOPLE, "", "anybody"));
    add(parts, match, FieldName.DEVICES, "on ");
    parts.add(place(match, "from ", FieldName.FROM_ZONES, FieldName.FROM_NETWORKS));
    parts.add(place(match, "to ", FieldName.TO_ZONES, FieldName.TO_NETWORKS));
    add(parts, match, FieldName.TO_SITES, "asking for ");
    parts.add(phrase(match, FieldName.APPLICATIONS, "using ", "using any application"));
    if (match.ports() == Rule.Ports.USUAL) {
      parts.add("on its usual ports");
    }
    add(parts, match, FieldName.SERVICES, "over ");
    add(parts, match, FieldName.TIMES, "during ");
    return String.join(" ", parts);
  }

  private static void add(List<String> parts, Rule.Match match, FieldName name, String before) {
    match.field(name).ifPresent(field -> parts.add(before + words(field)));
  }

  private static String phrase(Rule.Match match, FieldName name, String before, String any) {
    return match.field(name).map(field -> before + words(field)).orElse(any);
  }

  private static String place(
      Rule.Match match, String before, FieldName zones, FieldName networks) {
    Optional<String> zone = match.field(zones).map(Sentence::words);
    Optional<String> network = match.field(networks).map(Sentence::words);
    if (zone.isPresent() && network.isPresent()) {
      return before + network.get() + " in " + zone.get();
    }
    return before + zone.or(() -> network).orElse("anywhere");
  }

  private static String words(Field field) {
    Function<String, String> sense =
        field.sense() == Field.Sense.IS ? Function.identity() : text -> "anything but " + text;
    List<String> values = field.values().stream().map(Sentence::word).toList();
    int last = values.size() - 1;
    return sense.apply(
        last == 0
            ? values.get(0)
            : values.subList(0, last).stream().collect(Collectors.joining(", "))
                + " or "
                + values.get(last));
  }

  private static String word(Value value) {
    return value instanceof Value.Identity
        ? "anybody " + ValueText.print(value)
        : ValueText.print(value);
  }
}
