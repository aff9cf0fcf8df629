package ironsieve.text;

import ironsieve.model.Connection;
import ironsieve.model.Connection.ApplicationUse;
import ironsieve.model.Connection.Device;
import ironsieve.model.Connection.Place;
import ironsieve.model.Connection.Source;
import ironsieve.model.Environment;
import ironsieve.model.Service;
import ironsieve.model.Value;
import ironsieve.model.Zone;
import ironsieve.region.Address;
import ironsieve.region.RangeSet;
import ironsieve.text.ProbeReader.Given;
import ironsieve.text.ProbeText.Detail;
import ironsieve.text.ProbeText.Probe;
import java.time.LocalDateTime;
import java.util.Comparator;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** Fills in what a probe does not say from what it says. */
final class ProbeFiller {

  private final Environment environment;

  ProbeFiller(NameIndex names) {
    environment = names.environment();
  }

  /**
   * The whole connection that a sentence is about.
   *
   * @param now the time where none was said
   * @param end where a sentence ends that says too little
   * @throws TextException if it says too little, or what it says does not fit together
   */
  Probe filledIn(Given said, LocalDateTime now, int end) {
    Set<Detail> filled = EnumSet.noneOf(Detail.class);
    if (said.fromZone == null && said.fromAddress == null) {
      throw new TextException(end, "say where it comes from: from ZONE or from ADDRESS");
    }
    if (said.toAddress == null && said.host != null) {
      resolve(said);
      note(filled, Detail.TO_ADDRESS, null);
    }
    if (said.toZone == null && said.toAddress == null) {
      throw new TextException(
          end,
          said.host == null
              ? "say where it goes: to ZONE or to ADDRESS"
              : said.host + " resolves to no address here; say a zone or an address too");
    }
    Place from = place(said.fromZone, said.fromAddress, said.toAddress, end);
    Place to = place(said.toZone, said.toAddress, from.address(), end);
    note(filled, Detail.FROM_ZONE, said.fromZone);
    note(filled, Detail.FROM_ADDRESS, said.fromAddress);
    note(filled, Detail.TO_ZONE, said.toZone);
    note(filled, Detail.TO_ADDRESS, said.toAddress);
    note(filled, Detail.SITE, said.host);
    note(filled, Detail.PERSON, said.person);
    note(filled, Detail.DEVICE, said.device);
    note(filled, Detail.SERVICE, said.service);
    note(filled, Detail.APPLICATION, said.use);
    note(filled, Detail.TIME, said.at);
    ApplicationUse use = said.use == null ? ApplicationUse.UNRECOGNISED : said.use;
    LocalDateTime at = (said.at == null ? now : said.at).withSecond(0).withNano(0);
    return new Probe(
        new Connection(
            at,
            new Source(
                from,
                said.person == null ? Optional.empty() : said.person,
                said.device == null ? Device.UNKNOWN : said.device),
            new Connection.Destination(to, Optional.ofNullable(said.host)),
            said.service == null ? usualService(use) : said.service,
            use),
        filled);
  }

  /** An address the host name resolves to now that fits what else was said, if there is one. */
  private void resolve(Given said) {
    environment.atlas().hosts().getOrDefault(said.host, List.of()).stream()
        .filter(
            address -> said.fromAddress == null || said.fromAddress.version() == address.version())
        .filter(
            address ->
                said.toZone == null || behind().get(zoneNumber(said.toZone)).contains(address))
        .findFirst()
        .ifPresent(address -> said.toAddress = address);
  }

  private static void note(Set<Detail> filled, Detail detail, Object said) {
    if (said == null) {
      filled.add(detail);
    }
  }

  private Service usualService(ApplicationUse use) {
    return use.application()
        .flatMap(environment.catalogue()::application)
        .flatMap(application -> application.wiring().usualPorts().stream().findFirst())
        .map(Value.ServiceRange::low)
        .orElse(new Service(Service.TCP, 443));
  }

  private Place place(String zone, Address address, Address other, int end) {
    if (address != null) {
      return new Place(zone == null ? zoneOf(address, end) : zone, address);
    }
    return new Place(zone, addressIn(zone, other, end));
  }

  private String zoneOf(Address address, int end) {
    List<RangeSet<Address>> behind = behind();
    for (int z = 0; z < behind.size(); z++) {
      if (behind.get(z).contains(address)) {
        return environment.zones().get(z).name();
      }
    }
    throw new TextException(end, address + " lies behind no zone; name the zone too");
  }

  private Address addressIn(String zone, Address sameVersion, int end) {
    RangeSet<Address> behind = behind().get(zoneNumber(zone));
    return behind.ranges().stream()
        .filter(range -> sameVersion == null || range.low().version() == sameVersion.version())
        .map(Address::typical)
        .min(Comparator.comparing(address -> !address.isExample()))
        .orElseThrow(
            () ->
                new TextException(
                    end,
                    "zone " + zone + " has no address of the same IP version as the other end"));
  }

  private int zoneNumber(String zone) {
    List<String> names = environment.zones().stream().map(Zone::name).toList();
    return names.indexOf(zone);
  }

  private List<RangeSet<Address>> behind() {
    return Zone.behind(environment.zones());
  }
}
