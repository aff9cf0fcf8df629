package ironsieve.traffic.protocol;

/** What a signature can ask about, in the order in which a connection shows it. */
public enum Field {
  PROTOCOL("protocol", Kind.WORD, Stage.FIRST_PACKET),
  PORT("port", Kind.NUMBER, Stage.FIRST_PACKET),
  ADDRESS("address", Kind.NUMBER, Stage.FIRST_PACKET),
  SERVER_NAME("server name", Kind.NAME, Stage.NAMED),
  DNS_NAME("DNS name", Kind.NAME, Stage.NAMED),
  ALPN("ALPN", Kind.WORD, Stage.NAMED),
  TLS_VERSION("TLS version", Kind.WORD, Stage.NAMED),
  CERTIFICATE("certificate name", Kind.NAME, Stage.NAMED),
  CLIENT_SIZES("client sizes", Kind.NUMBER, Stage.IDENTIFIED),
  SERVER_SIZES("server sizes", Kind.NUMBER, Stage.IDENTIFIED),
  CLIENT_BYTES("client bytes", Kind.BYTES, Stage.IDENTIFIED),
  SERVER_BYTES("server bytes", Kind.BYTES, Stage.IDENTIFIED),
  HOST("host", Kind.NAME, Stage.NAMED),
  METHOD("method", Kind.WORD, Stage.READ),
  PATH("path", Kind.TEXT, Stage.READ),
  HEADER("header", Kind.TEXT, Stage.READ),
  CONTENT_TYPE("content type", Kind.TEXT, Stage.READ),
  STATUS("status", Kind.WORD, Stage.READ);

  /** How the values of a field are compared. */
  public enum Kind {
    /** A host name: read from its end. */
    NAME,
    /** One of a few words, in capitals or not. */
    WORD,
    TEXT,
    BYTES,
    NUMBER
  }

  /** When a connection shows it; the stages of a fall. */
  public enum Stage {
    FIRST_PACKET("first packet"),
    NAMED("named"),
    IDENTIFIED("identified"),
    READ("read");

    private final String word;

    Stage(String word) {
      this.word = word;
    }

    /** The stage's name. */
    public String word() {
      return word;
    }
  }

  private final String word;
  private final Kind kind;
  private final Stage stage;

  Field(String word, Kind kind, Stage stage) {
    this.word = word;
    this.kind = kind;
    this.stage = stage;
  }

  /** The word signatures have for it. */
  public String word() {
    return word;
  }

  /** How its values are compared. */
  public Kind kind() {
    return kind;
  }

  /** When a connection shows it at the earliest. */
  public Stage stage() {
    return stage;
  }
}
