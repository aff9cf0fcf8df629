package ironsieve.standins;

import com.unboundid.ldap.listener.InMemoryDirectoryServer;
import com.unboundid.ldap.listener.InMemoryDirectoryServerConfig;
import com.unboundid.ldap.listener.InMemoryListenerConfig;
import com.unboundid.ldap.sdk.Attribute;
import com.unboundid.ldap.sdk.DN;
import com.unboundid.ldap.sdk.Entry;
import com.unboundid.ldap.sdk.LDAPException;
import com.unboundid.ldap.sdk.RDN;
import com.unboundid.ldif.LDIFChangeRecord;
import com.unboundid.ldif.LDIFException;
import com.unboundid.ldif.LDIFReader;
import ironsieve.files.CompanyFolder;
import ironsieve.files.Documents.GroupDoc;
import ironsieve.files.Documents.PersonDoc;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.net.InetAddress;
import java.util.Collection;
import java.util.HashMap;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/** The demo company's people and groups over LDAP, with what has happened since. */
public final class DirectoryStandIn implements AutoCloseable {

  private static final String BASE = "dc=saltmere,dc=example";

  private final InMemoryDirectoryServer server;

  /**
   * Starts it on loopback.
   *
   * @param port 0 for any
   */
  public DirectoryStandIn(int port) throws LDAPException, IOException {
    InMemoryDirectoryServerConfig config = new InMemoryDirectoryServerConfig(BASE);
    config.setSchema(null);
    config.setListenerConfigs(
        InMemoryListenerConfig.createLDAPConfig(
            "loopback", InetAddress.getLoopbackAddress(), port, null));
    server = new InMemoryDirectoryServer(config);
    server.add(BASE, new Attribute("objectClass", "domain"), new Attribute("dc", "saltmere"));
    for (String unit : new String[] {"people", "groups"}) {
      server.add(
          "ou=" + unit + "," + BASE,
          new Attribute("objectClass", "organizationalUnit"),
          new Attribute("ou", unit));
    }
    fill();
    since();
    server.startListening();
  }

  /** Where it listens. */
  public int port() {
    return server.getListenPort();
  }

  private void fill() throws LDAPException {
    CompanyFolder folder =
        new CompanyFolder(
            path -> {
              try {
                return Optional.of(new ByteArrayInputStream(DemoFile.read(path)));
              } catch (IOException e) {
                return Optional.empty();
              }
            });
    Map<String, Entry> groups = new HashMap<>();
    for (GroupDoc group : folder.groups()) {
      Entry entry =
          new Entry(
              group(group.name()),
              new Attribute("objectClass", "groupOfNames"),
              new Attribute("cn", group.name()));
      if (!group.note().isEmpty()) {
        entry.addAttribute("description", group.note());
      }
      groups.put(group.name(), entry);
    }
    for (GroupDoc group : folder.groups()) {
      join(groups, group.parents(), group(group.name()));
    }
    for (PersonDoc person : folder.people()) {
      Entry entry =
          new Entry(
              person(person.login()),
              new Attribute("objectClass", "inetOrgPerson"),
              new Attribute("uid", person.login()),
              new Attribute("cn", person.name()));
      person.attributes().forEach((key, value) -> entry.addAttribute(attribute(key), value));
      server.add(entry);
      join(groups, person.groups(), person(person.login()));
    }
    for (Entry group : groups.values()) {
      server.add(group);
    }
  }

  private static void join(Map<String, Entry> groups, Collection<String> names, DN member) {
    names.forEach(name -> groups.get(name).addAttribute("member", member.toString()));
  }

  private void since() throws LDAPException, IOException {
    try (LDIFReader reader =
        new LDIFReader(new ByteArrayInputStream(DemoFile.read("stand-ins/directory.ldif")))) {
      for (LDIFChangeRecord change = reader.readChangeRecord();
          change != null;
          change = reader.readChangeRecord()) {
        change.processChange(server);
      }
    } catch (LDIFException e) {
      throw new IOException("stand-ins/directory.ldif: " + e.getMessage(), e);
    }
  }

  private static DN person(String login) throws LDAPException {
    return new DN(new RDN("uid", login), new DN("ou=people," + BASE));
  }

  private static DN group(String name) throws LDAPException {
    return new DN(new RDN("cn", name), new DN("ou=groups," + BASE));
  }

  /** {@code home port} stands there as {@code homePort}. */
  private static String attribute(String name) {
    StringBuilder joined = new StringBuilder();
    for (String word : name.split(" ")) {
      joined.append(
          joined.isEmpty()
              ? word
              : word.substring(0, 1).toUpperCase(Locale.ROOT) + word.substring(1));
    }
    return joined.toString();
  }

  @Override
  public void close() {
    server.shutDown(true);
  }
}
