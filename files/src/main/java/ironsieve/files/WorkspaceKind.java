package ironsieve.files;

import ironsieve.files.Documents.AddressListDoc;
import ironsieve.files.Documents.ApplicationDoc;
import ironsieve.files.Documents.CountryDoc;
import ironsieve.files.Documents.DeviceKindDoc;
import ironsieve.files.Documents.EditionDoc;
import ironsieve.files.Documents.GroupDoc;
import ironsieve.files.Documents.HostDoc;
import ironsieve.files.Documents.OrganisationDoc;
import ironsieve.files.Documents.PersonDoc;
import ironsieve.files.Documents.SetDoc;
import ironsieve.files.Documents.SiteDoc;
import ironsieve.files.Documents.SourceDoc;
import ironsieve.files.Documents.ZoneDoc;
import java.util.Arrays;
import java.util.Optional;
import java.util.function.Function;

/** The kinds of record that all rulebases of a workspace are read against. */
public enum WorkspaceKind {
  ORGANISATION("organisation", OrganisationDoc.class, doc -> WorkspaceKind.ONLY),
  ZONE("zone", ZoneDoc.class, doc -> ((ZoneDoc) doc).name()),
  GROUP("group", GroupDoc.class, doc -> ((GroupDoc) doc).name()),
  PERSON("person", PersonDoc.class, doc -> ((PersonDoc) doc).login()),
  DEVICE_KIND("device kind", DeviceKindDoc.class, doc -> ((DeviceKindDoc) doc).name()),
  EDITION("edition", EditionDoc.class, doc -> WorkspaceKind.ONLY),
  APPLICATION("application", ApplicationDoc.class, doc -> ((ApplicationDoc) doc).name()),
  ADDRESS_LIST("address list", AddressListDoc.class, doc -> ((AddressListDoc) doc).name()),
  COUNTRY("country", CountryDoc.class, doc -> ((CountryDoc) doc).code()),
  HOST("host", HostDoc.class, doc -> ((HostDoc) doc).host()),
  SITE("site", SiteDoc.class, doc -> ((SiteDoc) doc).names()),
  SET("set", SetDoc.class, doc -> ((SetDoc) doc).id()),
  SOURCE("source", SourceDoc.class, doc -> ((SourceDoc) doc).name());

  /** What identifies a record of which there is one. */
  public static final String ONLY = "only";

  private final String word;
  private final Class<?> type;
  private final Function<Object, String> id;

  WorkspaceKind(String word, Class<?> type, Function<Object, String> id) {
    this.word = word;
    this.type = type;
    this.id = id;
  }

  /** The word in the journal, the API and messages. */
  public String word() {
    return word;
  }

  /** The class of its documents. */
  public Class<?> type() {
    return type;
  }

  /** What identifies a document among those of its kind. */
  public String id(Object doc) {
    return id.apply(doc);
  }

  /** The kind with this word, if there is one. */
  public static Optional<WorkspaceKind> ofWord(String word) {
    return Arrays.stream(values()).filter(kind -> kind.word.equals(word)).findFirst();
  }
}
