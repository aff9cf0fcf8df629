package ironsieve.server.edit;

import com.unboundid.ldap.sdk.DN;
import com.unboundid.ldap.sdk.Filter;
import com.unboundid.ldap.sdk.LDAPException;
import ironsieve.files.Documents.LdapDoc;
import ironsieve.files.Documents.SourceDoc;
import ironsieve.files.FaultException;
import ironsieve.files.SourceKind;
import java.net.URI;
import java.security.GeneralSecurityException;
import java.security.KeyFactory;
import java.security.spec.X509EncodedKeySpec;
import java.util.Base64;
import java.util.Set;
import java.util.TreeSet;

/** What can be said of a source without asking it. */
final class SourceChecks {

  private static final int MONTH = 31 * 24 * 60;
  private static final int MOST_TEXT = 100_000;

  private SourceChecks() {}

  /**
   * Refuses a source that cannot be asked.
   *
   * @throws FaultException naming the field and what would be right
   */
  static void demandReadable(SourceDoc source) {
    FaultException.demandName("source", "name", source.name(), Limits.NAME);
    String place = "source " + source.name();
    SourceKind kind =
        SourceKind.ofWord(String.valueOf(source.kind()))
            .orElseThrow(
                () ->
                    new FaultException(
                        place, "kind", "kinds are " + String.join(", ", SourceKind.words())));
    address(place, kind, source.address());
    within(place, "every", source.every(), MONTH);
    within(place, "mostRemoved", source.mostRemoved(), 100);
    if (!Set.of("at once", "after looking").contains(source.adopt())) {
      throw new FaultException(
          place, "adopt", "what is new is adopted \"at once\" or \"after looking\"");
    }
    if (kind == SourceKind.ADDRESS_LIST) {
      FaultException.demandName(place, "into", source.into(), Limits.NAME);
    } else if (!source.into().isEmpty()) {
      throw new FaultException(place, "into", "only an address list is kept under a name");
    }
    if ((kind == SourceKind.DIRECTORY) != (source.directory() != null)) {
      throw new FaultException(
          place, "directory", "a directory, and nothing else, says how people are found in it");
    }
    if (source.directory() != null) {
      directory(place, source.directory());
    }
    if (source.feed() != null) {
      feed(place, kind, source);
    }
    key(place, source.key());
  }

  private static void feed(String place, SourceKind kind, SourceDoc source) {
    if (!kind.schemes().contains("https")) {
      throw new FaultException(
          place, "feed", "only what is on a web server says how that is spoken to");
    }
    if (source.feed().certificates().length() > MOST_TEXT) {
      throw new FaultException(place, "certificates", "this is longer than certificates are");
    }
    String login = source.feed().login();
    if (login.length() > Limits.NAME || login.contains(":")) {
      throw new FaultException(
          place,
          "login",
          "a name to sign in with has at most " + Limits.NAME + " letters, and no colon");
    }
    URI address = URI.create(source.address());
    boolean isHere = Set.of("127.0.0.1", "localhost", "[::1]").contains(address.getHost());
    if (!login.isEmpty() && "http".equals(address.getScheme()) && !isHere) {
      throw new FaultException(
          place,
          "address",
          "a password is sent to an address that begins with https://, where nobody can read it");
    }
  }

  private static void within(String place, String field, int number, int most) {
    if (number < 0 || number > most) {
      throw new FaultException(place, field, "this is a number from 0 to " + most);
    }
  }

  private static void address(String place, SourceKind kind, String address) {
    String example =
        switch (kind) {
          case DIRECTORY -> "ldaps://directory.example or ldap://192.0.2.7:389";
          case RESOLVER -> "dns://192.0.2.53 or dns://192.0.2.53:5353";
          default -> "https://feeds.example/list.csv";
        };
    URI uri;
    try {
      uri = URI.create(address);
    } catch (IllegalArgumentException e) {
      throw new FaultException(place, "address", "an address is such as " + example);
    }
    if (uri.getScheme() == null
        || uri.getHost() == null
        || !kind.schemes().contains(uri.getScheme())) {
      throw new FaultException(
          place,
          "address",
          "an address of a "
              + kind.word()
              + " begins with "
              + String.join(" or ", new TreeSet<>(kind.schemes()))
              + "://, such as "
              + example);
    }
    if (uri.getPort() > 65_535) {
      throw new FaultException(place, "address", "a port is 1 to 65535, not " + uri.getPort());
    }
    if (uri.getUserInfo() != null) {
      throw new FaultException(
          place, "address", "a name and password do not stand in an address, which everybody sees");
    }
  }

  private static void directory(String place, LdapDoc directory) {
    if (!Set.of("starttls", "none").contains(directory.security())) {
      throw new FaultException(
          place, "security", "a connection that begins in the clear goes on with starttls or none");
    }
    try {
      new DN(directory.base());
      new DN(directory.bind().contains("=") ? directory.bind() : "");
      Filter.create(directory.people());
      if (!directory.groups().isEmpty()) {
        Filter.create(directory.groups());
      }
    } catch (LDAPException e) {
      throw new FaultException(place, "directory", e.getMessage());
    }
    for (String attribute : directory.attributes().values()) {
      attribute(place, attribute);
    }
    attribute(place, directory.login());
    attribute(place, directory.fullName());
    if (directory.certificates().length() > MOST_TEXT) {
      throw new FaultException(place, "certificates", "this is longer than certificates are");
    }
  }

  private static void attribute(String place, String attribute) {
    if (!attribute.matches("[A-Za-z][A-Za-z0-9;.-]{0,99}")) {
      throw new FaultException(
          place, "attributes", "\"" + attribute + "\" is no attribute of a directory, such as uid");
    }
  }

  private static void key(String place, String key) {
    if (key.isEmpty()) {
      return;
    }
    try {
      KeyFactory.getInstance("Ed25519")
          .generatePublic(new X509EncodedKeySpec(Base64.getDecoder().decode(key)));
    } catch (GeneralSecurityException | IllegalArgumentException e) {
      throw new FaultException(
          place,
          "key",
          "this is no Ed25519 key as base64 of its X.509 form (" + e.getMessage() + ")");
    }
  }
}
