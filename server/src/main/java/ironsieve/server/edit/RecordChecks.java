package ironsieve.server.edit;

import ironsieve.files.DocumentReader;
import ironsieve.files.Documents.AddressListDoc;
import ironsieve.files.Documents.ApplicationDoc;
import ironsieve.files.Documents.CountryDoc;
import ironsieve.files.Documents.DeviceKindDoc;
import ironsieve.files.Documents.GroupDoc;
import ironsieve.files.Documents.HostDoc;
import ironsieve.files.Documents.OrganisationDoc;
import ironsieve.files.Documents.PersonDoc;
import ironsieve.files.Documents.SetDoc;
import ironsieve.files.Documents.SiteDoc;
import ironsieve.files.Documents.SourceDoc;
import ironsieve.files.Documents.ZoneDoc;
import ironsieve.files.FaultException;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.region.Address;
import ironsieve.text.HostText;
import ironsieve.text.ValueText;
import ironsieve.traffic.signature.SignatureBook;
import java.util.Collection;
import java.util.List;
import java.util.Set;

/** What can be said of a record of the workspace alone, wherever it comes from. */
public final class RecordChecks {

  private RecordChecks() {}

  /**
   * Refuses signatures that cannot be read, each alone or all of some applications together.
   *
   * @throws FaultException naming the application, the signature and the column
   */
  static void demandReadable(Collection<ApplicationDoc> applications) {
    new SignatureBook(applications.stream().map(one -> SignatureBook.written(one, true)).toList())
        .problems()
        .forEach(
            problem -> {
              throw new FaultException(
                  "application " + problem.application(),
                  "signatures",
                  "signature "
                      + problem.number()
                      + ", column "
                      + problem.column()
                      + ": "
                      + problem.message());
            });
  }

  /**
   * Refuses a record that cannot be read.
   *
   * @throws FaultException naming the record and what would be right
   */
  public static void demandReadable(Object doc) {
    if (doc instanceof ZoneDoc zone) {
      named("zone", zone.name());
      DocumentReader.zone(zone);
    } else if (doc instanceof GroupDoc group) {
      named("group", group.name());
      listable("group", "name", group.name());
    } else if (doc instanceof PersonDoc person) {
      person(person);
    } else if (doc instanceof DeviceKindDoc kind) {
      named("device kind", kind.name());
      if (Set.of("unknown", "any device").contains(kind.name()) || kind.name().contains(",")) {
        throw new FaultException(
            "device kind " + kind.name(), "name", "this word has a meaning of its own in rules");
      }
    } else if (doc instanceof ApplicationDoc application) {
      named("application", application.name());
      named("application " + application.name(), "category", application.category());
      DocumentReader.application(application);
      demandReadable(List.of(application));
    } else if (doc instanceof AddressListDoc list) {
      named("address list", list.name());
      list.addresses().forEach(address -> network("address list " + list.name(), address));
    } else if (doc instanceof CountryDoc country) {
      if (country.code() == null || !country.code().matches("[A-Z]{2}")) {
        throw new FaultException("country", "code", "a country is two capital letters, such as XA");
      }
      country.networks().forEach(network -> network("country " + country.code(), network));
    } else if (doc instanceof HostDoc host) {
      host(host);
    } else if (doc instanceof SiteDoc site) {
      site(site);
    } else if (doc instanceof SetDoc set) {
      DocumentReader.set(set);
    } else if (doc instanceof OrganisationDoc organisation) {
      named("organisation", organisation.name());
    } else if (doc instanceof SourceDoc source) {
      SourceChecks.demandReadable(source);
    }
  }

  /** In files such names stand in lists, with semicolons between them. */
  private static void listable(String place, String field, String name) {
    if (name.contains(";") || name.contains("|")) {
      throw new FaultException(
          place, field, "\"" + name + "\" has a ; or | in it, which it cannot");
    }
  }

  private static void named(String place, String name) {
    named(place, "name", name);
  }

  private static void named(String place, String field, String name) {
    FaultException.demandName(place, field, name, Limits.NAME);
  }

  private static void person(PersonDoc person) {
    named("person", "login", person.login());
    named("person " + person.login(), person.name());
    if (!person.login().equals(person.login().replaceAll("[\\s,;]", ""))) {
      throw new FaultException(
          "person " + person.login(), "login", "a login has no spaces, commas or semicolons");
    }
    person
        .attributes()
        .forEach(
            (key, value) -> {
              named("person " + person.login(), "attribute", key);
              named("person " + person.login(), key, value);
              listable("person " + person.login(), key, key + value);
              if (key.contains("=")) {
                throw new FaultException(
                    "person " + person.login(), key, "an attribute's name has no =");
              }
            });
  }

  private static void network(String place, String text) {
    try {
      if (ValueText.parse(ValueKind.NETWORK, text) instanceof Value.Network) {
        return;
      }
    } catch (IllegalArgumentException e) {
      throw new FaultException(place, "networks", e.getMessage());
    }
    throw new FaultException(
        place, "networks", "\"" + text + "\" is no network, such as 203.0.113.0/24");
  }

  private static void host(HostDoc host) {
    try {
      named("host", "host", host.host());
      HostText.name(host.host());
      host.addresses().forEach(Address::parse);
    } catch (IllegalArgumentException e) {
      throw new FaultException("host " + host.host(), "addresses", e.getMessage());
    }
  }

  private static void site(SiteDoc site) {
    try {
      if (!(ValueText.parse(ValueKind.SITE, String.valueOf(site.names()))
          instanceof Value.HostName)) {
        throw new IllegalArgumentException("a site is such as shop.example or *.shop.example");
      }
    } catch (IllegalArgumentException e) {
      throw new FaultException("site " + site.names(), "names", e.getMessage());
    }
    named("site " + site.names(), "category", site.category());
  }
}
