package ironsieve.files;

import com.fasterxml.jackson.annotation.JsonAlias;
import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.annotation.JsonSubTypes;
import java.math.BigDecimal;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/**
 * The documents that records are kept as. Values inside are texts as {@link
 * ironsieve.text.ValueText} reads them, so a document means the same wherever it is read.
 */
public final class Documents {

  /** What older documents say, and what is said now; so that equal records are equal documents. */
  private static final Map<String, String> OLDER_WORDS =
      Map.of(
          "log", "logged",
          "quiet", "not logged",
          "open", "decrypt",
          "leave", "leave encrypted",
          "sealed", "encrypted");

  /** What kinds of findings were called, in archives of then. */
  private static final Map<String, String> OLDER_FINDINGS =
      Map.of("needs unmet", "missing dependency", "unguarded", "no limits on what it may use");

  private Documents() {}

  private static String now(String word) {
    return word == null ? null : OLDER_WORDS.getOrDefault(word, word);
  }

  /**
   * One field of a rule.
   *
   * @param sense {@code is} or {@code is not}
   */
  public record FieldDoc(String sense, List<String> values) {}

  /**
   * One rule.
   *
   * @param chapter the id of the chapter it stands in
   * @param position its place in the chapter; any numbers that sort right
   * @param state {@code on} or {@code off}
   * @param fields by field key, such as {@code from.zones}; a missing one says any
   * @param ports {@code any} or {@code usual}
   * @param verdict what happens, as {@link ironsieve.text.OutcomeText} reads it
   * @param sheet the name of a usage sheet; null for none
   * @param logging {@code logged} or {@code not logged}
   */
  @JsonInclude(JsonInclude.Include.NON_NULL)
  public record RuleDoc(
      String id,
      String chapter,
      BigDecimal position,
      String name,
      String state,
      Map<String, FieldDoc> fields,
      String ports,
      String verdict,
      String sheet,
      String logging,
      String note,
      @JsonAlias("kept") MetadataDoc metadata) {

    public RuleDoc {
      position = plain(position);
      logging = now(logging);
    }

    /** The same rule somewhere else. */
    public RuleDoc at(String newChapter, BigDecimal newPosition) {
      return new RuleDoc(
          id,
          newChapter,
          newPosition,
          name,
          state,
          fields,
          ports,
          verdict,
          sheet,
          logging,
          note,
          metadata);
    }

    /** The same rule, on, with another note. */
    public RuleDoc turnedOn(String newNote) {
      return new RuleDoc(
          id, chapter, position, name, "on", fields, ports, verdict, sheet, logging, newNote,
          metadata);
    }

    /** The same rule with other fields. */
    public RuleDoc withFields(Map<String, FieldDoc> newFields) {
      return new RuleDoc(
          id, chapter, position, name, state, newFields, ports, verdict, sheet, logging, note,
          metadata);
    }
  }

  /**
   * What people write down about a rule besides its note; null where there is nothing.
   *
   * @param reviewBy a day such as {@code 2027-01-31}
   */
  @JsonInclude(JsonInclude.Include.NON_NULL)
  public record MetadataDoc(String owner, String changes, String reviewBy) {}

  /** One chapter, without its rules. */
  public record ChapterDoc(String id, BigDecimal position, String title, String note) {

    public ChapterDoc {
      position = plain(position);
    }
  }

  /** The one spelling of a number, so that equal positions are equal documents. */
  private static BigDecimal plain(BigDecimal number) {
    if (number == null) {
      return null;
    }
    BigDecimal stripped = number.stripTrailingZeros();
    return stripped.scale() < 0 ? stripped.setScale(0) : stripped;
  }

  /**
   * One named set.
   *
   * @param kind the word of a {@link ironsieve.model.ValueKind}
   */
  public record SetDoc(String kind, String name, List<String> values, String note) {

    /** What identifies it in its rulebase. */
    public String id() {
      return kind + ":" + name;
    }
  }

  /**
   * One promise.
   *
   * @param group what it belongs to, in words; may be empty
   * @param name what it is about
   * @param probe the connection, as a probe that leaves nothing to be filled in
   * @param verdict the word of the verdict it must get
   * @param catcher the id of the rule that must catch it; null where that does not matter
   */
  public record PromiseDoc(
      String id, String group, String name, String probe, String verdict, String catcher) {}

  /** A shared part of a rulebase, which is saved and removed whole. */
  @JsonSubTypes({
    @JsonSubTypes.Type(value = SheetDoc.class, name = "sheet"),
    @JsonSubTypes.Type(value = NoticeDoc.class, name = "notice"),
    @JsonSubTypes.Type(value = LaneDoc.class, name = "lane"),
    @JsonSubTypes.Type(value = DecryptionRuleDoc.class, name = "decryption rule")
  })
  public sealed interface PartDoc permits SheetDoc, NoticeDoc, LaneDoc, DecryptionRuleDoc {}

  /**
   * One usage sheet.
   *
   * @param otherwise what happens where no line fits
   */
  public record SheetDoc(String name, List<SheetLineDoc> lines, String otherwise, String note)
      implements PartDoc {}

  /** One line of a usage sheet: a feature, application, family or category, and what happens. */
  public record SheetLineDoc(String about, String outcome) {}

  /** One notice; {@code verdict} is {@code ask}, {@code stop} or {@code enrol}. */
  public record NoticeDoc(String name, String verdict, String text) implements PartDoc {}

  /** Rates in kbit/s, up from the client and down to it; 0 says nothing. */
  public record RatesDoc(@JsonAlias("there") long up, @JsonAlias("back") long down) {}

  /**
   * One lane.
   *
   * @param scope {@code gateway}, {@code rule} or {@code client}
   */
  public record LaneDoc(
      String name, String scope, RatesDoc ceiling, RatesDoc guarantee, int clients, String note)
      implements PartDoc {}

  /**
   * One line that says whose encrypted content is decrypted.
   *
   * @param position its place; any numbers that sort right
   * @param decision {@code decrypt} or {@code leave encrypted}
   */
  public record DecryptionRuleDoc(
      String id, BigDecimal position, String decision, Map<String, FieldDoc> fields, String note)
      implements PartDoc {

    public DecryptionRuleDoc {
      position = plain(position);
      decision = now(decision);
    }
  }

  /**
   * A finding somebody has accepted.
   *
   * @param rule the rule's id
   * @param kind the kind of finding, in words
   * @param print what the rule said then; the finding comes back when it says something else
   * @param reason why it may stay
   */
  public record AcceptedDoc(String rule, String kind, String print, String reason, String who) {

    public AcceptedDoc {
      kind = kind == null ? null : OLDER_FINDINGS.getOrDefault(kind, kind);
    }

    /** What identifies it in its rulebase. */
    public String id() {
      return rule + ":" + kind;
    }
  }

  /** One entry of the site list: {@code shop.example} or {@code *.shop.example}. */
  public record SiteDoc(String names, String category) {}

  /** What is known of addresses and host names. */
  public record AtlasDoc(
      Map<String, List<String>> countries,
      Map<String, List<String>> lists,
      Map<String, List<String>> hosts,
      List<SiteDoc> sites) {}

  /**
   * One zone; {@code side} is {@code inside}, {@code outside} or {@code gateway}.
   *
   * @param position its place among the zones; null in a file, which has them in their order
   */
  @JsonInclude(JsonInclude.Include.NON_NULL)
  public record ZoneDoc(
      String name, String side, List<String> networks, String note, Integer position) {

    public ZoneDoc {
      networks = networks == null ? List.of() : List.copyOf(networks);
      note = note == null ? "" : note;
    }

    /** The same zone in another place. */
    public ZoneDoc at(Integer place) {
      return new ZoneDoc(name, side, networks, note, place);
    }
  }

  /** One kind of device, and its place among them. */
  public record DeviceKindDoc(String name, int position) {}

  /** One address list: hosts, prefixes and ranges. */
  public record AddressListDoc(String name, List<String> addresses) {

    public AddressListDoc {
      addresses = addresses == null ? List.of() : List.copyOf(addresses);
    }
  }

  /** The networks of one country. */
  public record CountryDoc(String code, List<String> networks) {

    public CountryDoc {
      networks = networks == null ? List.of() : List.copyOf(networks);
    }
  }

  /** The addresses a host name resolves to. */
  public record HostDoc(String host, List<String> addresses) {

    public HostDoc {
      addresses = addresses == null ? List.of() : List.copyOf(addresses);
    }
  }

  /** The addresses or networks of a list, a country or a host name; nothing for other records. */
  public static Optional<List<String>> addresses(Object doc) {
    if (doc instanceof AddressListDoc list) {
      return Optional.of(list.addresses());
    }
    if (doc instanceof CountryDoc country) {
      return Optional.of(country.networks());
    }
    return doc instanceof HostDoc host ? Optional.of(host.addresses()) : Optional.empty();
  }

  /** The number of the edition of the catalogue that is in force. */
  public record EditionDoc(int number) {}

  /** What the organisation is called. */
  public record OrganisationDoc(String name) {}

  /**
   * One group of the directory.
   *
   * @param source the name of the {@link SourceDoc} that brought it; empty if somebody wrote it
   */
  public record GroupDoc(
      String name,
      List<String> parents,
      String note,
      @JsonInclude(JsonInclude.Include.NON_EMPTY) String source) {

    public GroupDoc {
      parents = parents == null ? List.of() : List.copyOf(parents);
      note = note == null ? "" : note;
      source = source == null ? "" : source;
    }

    /** A group that somebody wrote. */
    public GroupDoc(String name, List<String> parents, String note) {
      this(name, parents, note, "");
    }

    /** The same group, brought by a source. */
    public GroupDoc from(String other) {
      return new GroupDoc(name, parents, note, other);
    }
  }

  /**
   * One person of the directory.
   *
   * @param source the name of the {@link SourceDoc} that brought them; empty if somebody wrote them
   */
  public record PersonDoc(
      String login,
      String name,
      List<String> groups,
      Map<String, String> attributes,
      @JsonInclude(JsonInclude.Include.NON_EMPTY) String source) {

    public PersonDoc {
      name = name == null || name.isBlank() ? login : name;
      groups = groups == null ? List.of() : List.copyOf(groups);
      attributes = attributes == null ? Map.of() : new TreeMap<>(attributes);
      source = source == null ? "" : source;
    }

    /** A person that somebody wrote. */
    public PersonDoc(
        String login, String name, List<String> groups, Map<String, String> attributes) {
      this(login, name, groups, attributes, "");
    }

    /** The same person, brought by a source. */
    public PersonDoc from(String other) {
      return new PersonDoc(login, name, groups, attributes, other);
    }
  }

  /**
   * Where some of the workspace is kept current from.
   *
   * @param kind the word of a {@link SourceKind}
   * @param address such as {@code ldaps://directory.example}, {@code https://feeds.example/list} or
   *     {@code 192.0.2.53:53}
   * @param into for an address list its name, otherwise empty
   * @param every minutes from one look to the next; 0 where only somebody looks
   * @param adopt {@code at once}, or {@code after looking} at what it would do
   * @param mostRemoved when more of a hundred records it brought would go, it stops and asks
   * @param directory how people and groups are found; only for a directory
   * @param key Ed25519 key of whoever signs editions, as base64 of its X.509 form; empty if none
   * @param feed how a web server is spoken to; nothing where as anybody does
   */
  @JsonInclude(JsonInclude.Include.NON_EMPTY)
  public record SourceDoc(
      String name,
      String kind,
      String address,
      String into,
      @JsonInclude(JsonInclude.Include.ALWAYS) int every,
      String adopt,
      @JsonInclude(JsonInclude.Include.ALWAYS) int mostRemoved,
      LdapDoc directory,
      String key,
      FeedDoc feed) {

    public SourceDoc {
      address = address == null ? "" : address.trim();
      into = into == null ? "" : into.trim();
      adopt = adopt == null ? "after looking" : adopt;
      key = key == null ? "" : key.trim();
    }
  }

  /**
   * How a web server that has a feed is spoken to.
   *
   * @param login the name to sign in with (RFC 7617); empty for nobody in particular
   * @param certificates PEM of whoever the server's certificate must come from; empty for those
   *     this machine trusts
   */
  @JsonInclude(JsonInclude.Include.NON_EMPTY)
  public record FeedDoc(String login, String certificates) {

    /** As anybody does. */
    public static final FeedDoc ANYBODY = new FeedDoc("", "");

    public FeedDoc {
      login = login == null ? "" : login.trim();
      certificates = certificates == null ? "" : certificates.trim();
    }
  }

  /**
   * How people and groups are found in a directory over LDAP.
   *
   * @param security {@code ldaps} is said by the address; otherwise {@code starttls} or {@code
   *     none}
   * @param certificates PEM of whoever the server's certificate must come from; empty for those
   *     this machine trusts
   * @param bind the name to log in with; empty for nobody in particular
   * @param base where to look
   * @param people filter of people, such as {@code (objectClass=person)}
   * @param groups filter of groups; empty for none
   * @param login the attribute with the login
   * @param fullName the attribute with the name
   * @param attributes for each attribute that rules may ask for, where it stands
   */
  @JsonInclude(JsonInclude.Include.NON_EMPTY)
  public record LdapDoc(
      String security,
      String certificates,
      String bind,
      String base,
      String people,
      String groups,
      String login,
      String fullName,
      Map<String, String> attributes) {

    public LdapDoc {
      security = security == null || security.isBlank() ? "starttls" : security;
      certificates = certificates == null ? "" : certificates.trim();
      bind = bind == null ? "" : bind.trim();
      base = base == null ? "" : base.trim();
      people = people == null || people.isBlank() ? "(objectClass=person)" : people.trim();
      groups = groups == null ? "(objectClass=groupOfNames)" : groups.trim();
      login = login == null || login.isBlank() ? "uid" : login.trim();
      fullName = fullName == null || fullName.isBlank() ? "cn" : fullName.trim();
      attributes = attributes == null ? Map.of() : new TreeMap<>(attributes);
    }
  }

  /**
   * One application of the catalogue; {@code content} is {@code plain} or {@code encrypted}, {@code
   * signatures} say how it and its features are recognised.
   */
  public record ApplicationDoc(
      String name,
      String category,
      String family,
      String provider,
      String exposure,
      String workValue,
      String content,
      List<String> usualPorts,
      List<String> ridesOn,
      List<String> needs,
      List<String> features,
      String description,
      List<String> signatures) {

    public ApplicationDoc {
      content = content == null ? "plain" : now(content);
      usualPorts = usualPorts == null ? List.of() : List.copyOf(usualPorts);
      ridesOn = ridesOn == null ? List.of() : List.copyOf(ridesOn);
      needs = needs == null ? List.of() : List.copyOf(needs);
      features = features == null ? List.of() : List.copyOf(features);
      signatures = signatures == null ? List.of() : List.copyOf(signatures);
    }
  }
}
