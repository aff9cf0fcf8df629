package ironsieve.model;

/** What kind of value a field or a named set holds. Zones have no named sets. */
public enum ValueKind {
  ZONE("zone"),
  NETWORK("network"),
  PERSON("person"),
  DEVICE("device"),
  SITE("site"),
  SERVICE("service"),
  APPLICATION("application"),
  TIME("time");

  private final String word;

  ValueKind(String word) {
    this.word = word;
  }

  /** The word in the API and in files. */
  public String word() {
    return word;
  }

  /** One of them in a sentence: {@code a zone}, {@code an application}. */
  public String one() {
    return ("aeiou".indexOf(word.charAt(0)) >= 0 ? "an " : "a ") + word;
  }

  /** The kind with this word. */
  public static ValueKind ofWord(String word) {
    for (ValueKind kind : values()) {
      if (kind.word.equals(word)) {
        return kind;
      }
    }
    throw new IllegalArgumentException("there is no kind of value \"" + word + "\"");
  }
}
