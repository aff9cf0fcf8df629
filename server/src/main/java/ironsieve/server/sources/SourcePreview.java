package ironsieve.server.sources;

import ironsieve.files.Documents.AddressListDoc;
import ironsieve.files.Documents.CountryDoc;
import ironsieve.files.Documents.PersonDoc;
import ironsieve.files.Documents.SiteDoc;
import java.util.List;

/** Records of a source in a line each, for somebody who tries whether it is set up right. */
final class SourcePreview {

  private SourcePreview() {}

  static String line(PersonDoc person) {
    StringBuilder line = new StringBuilder(person.login());
    line.append(", ").append(person.name());
    if (!person.groups().isEmpty()) {
      line.append(", in ").append(String.join("; ", person.groups()));
    }
    person.attributes().forEach((key, value) -> line.append(", ").append(key + "=" + value));
    return line.toString();
  }

  static String line(String host, NameResolver.Answer answer) {
    if (!answer.isKnown()) {
      return host + ": " + answer.problem();
    }
    return answer.addresses().isEmpty()
        ? host + ": no address"
        : host + ": " + String.join(", ", answer.addresses()) + ", for " + answer.seconds() + " s";
  }

  static List<String> lines(Object doc) {
    if (doc instanceof AddressListDoc list) {
      return list.addresses();
    }
    if (doc instanceof CountryDoc country) {
      return country.networks().stream().map(network -> network + ", " + country.code()).toList();
    }
    return doc instanceof SiteDoc site
        ? List.of(site.names() + ", " + site.category())
        : List.of(doc.toString());
  }
}
