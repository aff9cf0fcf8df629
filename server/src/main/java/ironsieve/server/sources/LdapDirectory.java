package ironsieve.server.sources;

import com.unboundid.asn1.ASN1OctetString;
import com.unboundid.ldap.sdk.Attribute;
import com.unboundid.ldap.sdk.Control;
import com.unboundid.ldap.sdk.Entry;
import com.unboundid.ldap.sdk.Filter;
import com.unboundid.ldap.sdk.LDAPConnection;
import com.unboundid.ldap.sdk.LDAPConnectionOptions;
import com.unboundid.ldap.sdk.LDAPException;
import com.unboundid.ldap.sdk.LDAPSearchException;
import com.unboundid.ldap.sdk.ResultCode;
import com.unboundid.ldap.sdk.SearchRequest;
import com.unboundid.ldap.sdk.SearchResult;
import com.unboundid.ldap.sdk.SearchResultEntry;
import com.unboundid.ldap.sdk.SearchResultListener;
import com.unboundid.ldap.sdk.SearchResultReference;
import com.unboundid.ldap.sdk.SearchScope;
import com.unboundid.ldap.sdk.controls.SimplePagedResultsControl;
import com.unboundid.ldap.sdk.extensions.StartTLSExtendedRequest;
import com.unboundid.util.ssl.SSLUtil;
import ironsieve.files.DirectoryFile;
import ironsieve.files.Documents.LdapDoc;
import ironsieve.files.Documents.SourceDoc;
import ironsieve.progress.Progress;
import java.io.IOException;
import java.net.URI;
import java.security.GeneralSecurityException;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.CancellationException;
import javax.net.ssl.SSLSocketFactory;
import javax.net.ssl.TrustManager;

/**
 * Reads people and groups from a directory over LDAP (RFC 4511), in pages (RFC 2696); encrypted
 * from the beginning or from StartTLS on, with the server's certificate and name checked. Referrals
 * are told and not followed. Safe for use by many threads.
 */
final class LdapDirectory {

  static final int MOST_ENTRIES = 500_000;

  /** So many bytes of entries are read of one directory. */
  static final long MOST_BYTES = 64L << 20;

  private static final int PAGE = 1_000;
  private static final int MOST_REFERRALS = 100;
  private static final int CONNECTING_MS = 5_000;
  static final int ANSWERING_MS = 20_000;
  static final Duration LONGEST = Duration.ofMinutes(2);
  private static final int LDAP_PORT = 389;
  private static final int LDAPS_PORT = 636;

  /** What every entry of a group may say of who is in it. */
  private static final List<String> OF_GROUPS =
      List.of("cn", "description", "member", "uniqueMember", "memberUid", "memberOf");

  private final SourceDoc source;
  private final String password;
  private final int answeringMs;
  private final Duration longest;
  private final List<String> leftOut = new ArrayList<>();
  private long bytes;

  LdapDirectory(SourceDoc source, String password) {
    this(source, password, ANSWERING_MS, LONGEST);
  }

  /**
   * One that waits no longer than this.
   *
   * @param answeringMs milliseconds for the next thing it says
   * @param longest for all of it: a server that says a little now and then would never end
   */
  LdapDirectory(SourceDoc source, String password, int answeringMs, Duration longest) {
    this.source = source;
    this.password = password;
    this.answeringMs = answeringMs;
    this.longest = longest;
  }

  /**
   * All people and groups, or the first people with the groups they are in.
   *
   * @param most how many people; {@link #MOST_ENTRIES} for all there are
   * @throws SourceException saying why they cannot be had; never some of them as if they were all
   * @throws CancellationException soon after {@code progress} is stopped
   */
  DirectoryFile read(int most, Progress progress) {
    LdapDoc how = source.directory();
    DirectoryFile.Mapping mapping =
        new DirectoryFile.Mapping(List.of(how.login()), List.of(how.fullName()), how.attributes());
    Patience patience = new Patience(longest, progress);
    try (LDAPConnection connection = connected()) {
      patience.watch(connection);
      Set<String> ofPeople = new TreeSet<>(how.attributes().values());
      ofPeople.addAll(List.of(how.login(), how.fullName(), "memberOf"));
      progress.begin("reading people", 0);
      Filter ofAll = Filter.create(how.people());
      List<Entry> people = search(connection, ofAll, ofPeople, most, progress);
      progress.begin("reading groups", 0);
      List<Entry> groups =
          how.groups().isEmpty()
              ? List.of()
              : search(connection, groups(people, most), OF_GROUPS, MOST_ENTRIES, progress);
      DirectoryFile file = DirectoryFile.of(people, groups, mapping);
      List<String> all = new ArrayList<>(leftOut);
      all.addAll(file.leftOut());
      return new DirectoryFile(file.people(), file.groups(), all);
    } catch (LDAPException e) {
      progress.check();
      throw new SourceException(
          patience.isOver()
              ? "the directory took longer than " + longest.toSeconds() + " s for all of it"
              : words(e),
          e);
    } catch (GeneralSecurityException | IOException e) {
      throw new SourceException("the certificates cannot be read: " + e.getMessage(), e);
    } finally {
      patience.end();
    }
  }

  /**
   * Breaks a connection off when it has taken too long or nobody waits for it any more. Whoever
   * asks is interrupted too: closed while a question is on its way, a connection may leave them
   * waiting.
   */
  private static final class Patience {
    private static final long LOOK_EVERY = 200;

    private final Thread asking = Thread.currentThread();
    private final long end;
    private final Progress progress;
    private volatile boolean isOver;
    private volatile boolean isBrokenOff;
    private Thread watching;

    private Patience(Duration longest, Progress progress) {
      end = System.nanoTime() + longest.toNanos();
      this.progress = progress;
    }

    private void watch(LDAPConnection connection) {
      watching =
          new Thread(
              () -> {
                try {
                  while (System.nanoTime() < end) {
                    progress.check();
                    Thread.sleep(LOOK_EVERY);
                  }
                  isOver = true;
                } catch (CancellationException e) {
                  // It is broken off all the same.
                } catch (InterruptedException e) {
                  return;
                }
                isBrokenOff = true;
                connection.close();
                asking.interrupt();
              },
              "directory");
      watching.setDaemon(true);
      watching.start();
    }

    private boolean isOver() {
      return isOver;
    }

    /** Ends the watch; from here on nobody is interrupted. */
    private void end() {
      if (watching == null) {
        return;
      }
      watching.interrupt();
      boolean wasInterrupted = false;
      while (watching.isAlive()) {
        try {
          watching.join();
        } catch (InterruptedException e) {
          wasInterrupted |= !isBrokenOff;
        }
      }
      if (isBrokenOff) {
        Thread.interrupted();
      } else if (wasInterrupted) {
        asking.interrupt();
      }
    }
  }

  /** All groups, or of a few people those they are in. */
  private Filter groups(List<Entry> people, int most) throws LDAPException {
    Filter all = Filter.create(source.directory().groups());
    if (most == MOST_ENTRIES) {
      return all;
    }
    List<Filter> any = new ArrayList<>();
    for (Entry person : people) {
      any.add(Filter.createEqualityFilter("member", person.getDN()));
      any.add(Filter.createEqualityFilter("uniqueMember", person.getDN()));
      String login = person.getAttributeValue(source.directory().login());
      if (login != null) {
        any.add(Filter.createEqualityFilter("memberUid", login));
      }
    }
    return Filter.createANDFilter(all, Filter.createORFilter(any));
  }

  private LDAPConnection connected() throws LDAPException, GeneralSecurityException, IOException {
    URI address = URI.create(source.address());
    boolean ldaps = address.getScheme().equals("ldaps");
    LDAPConnectionOptions options = new LDAPConnectionOptions();
    options.setConnectTimeoutMillis(CONNECTING_MS);
    options.setResponseTimeoutMillis(answeringMs);
    options.setFollowReferrals(false);
    // A server that is somebody else's, with a certificate somebody trusts, is still the wrong one.
    options.setSSLSocketVerifier(new CertificateName());
    int usual = ldaps ? LDAPS_PORT : LDAP_PORT;
    int port = address.getPort() < 0 ? usual : address.getPort();
    String host = address.getHost().replaceAll("^\\[|\\]$", "");
    LDAPConnection connection =
        ldaps
            ? new LDAPConnection(sockets(), options, host, port)
            : new LDAPConnection(options, host, port);
    try {
      if (!ldaps && source.directory().security().equals("starttls")) {
        demand(connection.processExtendedOperation(new StartTLSExtendedRequest(sockets())));
      }
      if (!source.directory().bind().isEmpty()) {
        connection.bind(source.directory().bind(), password);
      }
      return connection;
    } catch (LDAPException | GeneralSecurityException | IOException | RuntimeException e) {
      connection.close();
      throw e;
    }
  }

  private static void demand(com.unboundid.ldap.sdk.ExtendedResult result) {
    if (result.getResultCode() != ResultCode.SUCCESS) {
      throw new SourceException(
          "the directory does not encrypt (StartTLS): "
              + result.getResultCode().getName()
              + "; nothing was sent in the clear");
    }
  }

  private SSLSocketFactory sockets() throws GeneralSecurityException, IOException {
    TrustManager[] managers = TrustedCertificates.of(source.directory().certificates());
    return new SSLUtil(managers).createSSLSocketFactory();
  }

  private List<Entry> search(
      LDAPConnection connection,
      Filter filter,
      Collection<String> attributes,
      int most,
      Progress progress)
      throws LDAPException {
    List<Entry> all = new ArrayList<>();
    ASN1OctetString cookie = null;
    do {
      progress.check();
      Page read = new Page(connection);
      SearchRequest request =
          new SearchRequest(
              read,
              source.directory().base(),
              SearchScope.SUB,
              filter,
              attributes.toArray(String[]::new));
      // A directory without pages may send all at once, and says so if that is too much for it.
      request.setControls(
          new Control[] {new SimplePagedResultsControl(Math.min(PAGE, most), cookie, false)});
      SearchResult result;
      try {
        result = connection.search(request);
      } catch (LDAPSearchException e) {
        if (e.getResultCode() == ResultCode.SIZE_LIMIT_EXCEEDED) {
          throw new SourceException(
              "the directory sends no more than "
                  + (all.size() + read.entries.size())
                  + " entries; raise its limit for "
                  + who()
                  + ", or narrow the filter",
              e);
        }
        read.demandNotTooMuch();
        throw e;
      }
      read.demandNotTooMuch();
      all.addAll(read.entries);
      tellReferrals(read.references);
      SimplePagedResultsControl page = SimplePagedResultsControl.get(result);
      cookie = page != null && page.moreResultsToReturn() ? page.getCookie() : null;
      if (all.size() > MOST_ENTRIES) {
        throw new SourceException("there are more than " + MOST_ENTRIES + " entries");
      }
    } while (cookie != null && all.size() < most);
    return all.size() > most ? all.subList(0, most) : all;
  }

  /**
   * What comes of one page, which may be one without end: it is broken off as soon as it is more
   * than anybody's directory.
   */
  private final class Page implements SearchResultListener {
    private static final long serialVersionUID = 1L;

    private final transient LDAPConnection connection;
    private final transient List<Entry> entries = new ArrayList<>();
    private final transient List<SearchResultReference> references = new ArrayList<>();
    private boolean isTooMuch;

    private Page(LDAPConnection connection) {
      this.connection = connection;
    }

    @Override
    public void searchEntryReturned(SearchResultEntry entry) {
      if (isTooMuch) {
        return;
      }
      bytes += entry.getDN().length();
      for (Attribute attribute : entry.getAttributes()) {
        bytes += attribute.getName().length();
        for (byte[] value : attribute.getValueByteArrays()) {
          bytes += value.length;
        }
      }
      entries.add(entry);
      if (bytes > MOST_BYTES || entries.size() > MOST_ENTRIES) {
        isTooMuch = true;
        entries.clear();
        connection.close();
      }
    }

    @Override
    public void searchReferenceReturned(SearchResultReference reference) {
      if (references.size() < MOST_REFERRALS) {
        references.add(reference);
      }
    }

    private void demandNotTooMuch() {
      if (isTooMuch) {
        throw new SourceException(
            "the directory sends more than "
                + (MOST_BYTES >> 20)
                + " MB or "
                + MOST_ENTRIES
                + " entries; narrow the filter");
      }
    }
  }

  private String who() {
    String bind = source.directory().bind();
    return bind.isEmpty() ? "those who do not log in" : bind;
  }

  private void tellReferrals(List<SearchResultReference> references) {
    for (SearchResultReference reference : references) {
      leftOut.add(
          "what lies at "
              + String.join(", ", reference.getReferralURLs())
              + " is another directory's, and was not read");
    }
  }

  /** What went wrong, in words of whoever set it up. */
  private String words(LDAPException e) {
    String said = e.getDiagnosticMessage() == null ? e.getMessage() : e.getDiagnosticMessage();
    ResultCode code = e.getResultCode();
    Optional<String> certificate = certificate(e);
    if (certificate.isPresent()) {
      return "its certificate was not accepted: " + certificate.get();
    }
    if (code == ResultCode.CONNECT_ERROR) {
      return "nothing answers at " + URI.create(source.address()).getAuthority();
    }
    if (code == ResultCode.INVALID_CREDENTIALS) {
      return "the directory does not accept the name and password";
    }
    if (code == ResultCode.NO_SUCH_OBJECT) {
      return "the directory has no entry " + source.directory().base();
    }
    if (code == ResultCode.TIMEOUT) {
      return "the directory did not answer within " + answeringMs / 1000 + " s";
    }
    if (code == ResultCode.SERVER_DOWN) {
      return "the directory broke the connection in the middle";
    }
    if (code == ResultCode.REFERRAL) {
      return "the directory says that this is another's, and that was not asked: "
          + (e.getReferralURLs() == null ? "" : String.join(", ", e.getReferralURLs()));
    }
    return "the directory says: " + said;
  }

  /** What is wrong with the certificate, if that is what went wrong. */
  private Optional<String> certificate(LDAPException e) {
    StringBuilder all = new StringBuilder();
    for (Throwable one = e; one != null; one = one.getCause()) {
      all.append(one.getMessage()).append(' ');
    }
    String host = URI.create(source.address()).getHost();
    if (all.indexOf("PKIX") >= 0 || all.indexOf("certification path") >= 0) {
      return Optional.of(
          "nobody signed it who is trusted; put the certificate of whoever did into the source");
    }
    if (all.indexOf("ostname") >= 0 || all.indexOf("host name") >= 0) {
      return Optional.of("it is not for " + host);
    }
    return all.indexOf("SSLHandshake") >= 0
        ? Optional.of(String.valueOf(e.getMessage()))
        : Optional.empty();
  }
}
