package ironsieve.text;

import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.Rule;
import ironsieve.model.ValueKind;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** What a word by itself may be as a value. */
final class SingleValue {

  private SingleValue() {}

  /**
   * What a single value can be about: a network where a connection comes from and where it goes, an
   * application in its use. Names that are known here go before values that are only spelled right.
   *
   * @return for each field it may stand in, a match on it; at least one
   * @throws TextException with what comes nearest, if it is nothing at all
   */
  static List<Rule.Match> about(NameIndex names, String text) {
    String wanted = text.strip();
    List<Rule.Match> known = new ArrayList<>();
    List<Rule.Match> spelled = new ArrayList<>();
    for (SentencePart part : SentencePart.values()) {
      for (FieldName name : part.fields()) {
        Optional<String> spelling =
            names.of(name.kind()).all().stream()
                .filter(
                    one ->
                        one.equalsIgnoreCase(wanted)
                            || NameIndex.bare(one).equalsIgnoreCase(wanted))
                .findFirst();
        if (spelling.isPresent()) {
          known.add(match(name, spelling.get()));
        } else if (isLiteral(name.kind(), wanted)) {
          spelled.add(match(name, wanted));
        }
      }
    }
    if (known.isEmpty() && spelled.isEmpty()) {
      throw new TextException(
          0,
          "\""
              + PlainText.visible(wanted)
              + "\" is nothing known here"
              + names.nearest(wanted, SentencePart.values()));
    }
    return known.isEmpty() ? spelled : known;
  }

  private static Rule.Match match(FieldName name, String value) {
    return Rule.Match.any().with(name, Field.is(ValueText.parse(name.kind(), value)));
  }

  /** Whether a text can only be a new value of a kind; every address would do as a host name. */
  private static boolean isLiteral(ValueKind kind, String text) {
    return kind != ValueKind.ZONE
        && isSpelled(kind, text)
        && (kind != ValueKind.SITE || (text.contains(".") && !isSpelled(ValueKind.NETWORK, text)));
  }

  /** Whether a text is a value of a kind that needs no name here. */
  static boolean isSpelled(ValueKind kind, String text) {
    try {
      ValueText.parse(kind, text);
      return kind != ValueKind.APPLICATION && kind != ValueKind.PERSON && kind != ValueKind.DEVICE;
    } catch (TextException e) {
      return false;
    }
  }
}
