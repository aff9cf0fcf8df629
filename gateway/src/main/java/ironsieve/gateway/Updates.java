package ironsieve.gateway;

import ironsieve.files.Delivery;
import ironsieve.files.Digests;
import ironsieve.files.FaultException;
import ironsieve.files.Manifest;
import ironsieve.gateway.ReleaseFolder.Identity;
import ironsieve.gateway.ReleaseFolder.InForce;
import java.io.IOException;
import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;

/**
 * Keeps a gateway at what its server tells it. A release comes into force only if it is signed, is
 * meant for this gateway, is newer than what was told before, and its parts are what their digests
 * say; whatever is wrong is said to the server, and the old one stays in force.
 */
final class Updates {

  private static final long FIRST_WAIT = 250;
  private static final long LONGEST_WAIT = 30_000;

  private final ServerLink server;
  private final ReleaseFolder folder;
  private final Identity own;
  private final Consumer<String> say;
  private final Listening listen;
  private volatile Policy policy;
  private volatile boolean isStopped;
  private List<ReleaseFolder.ZonePort> said = List.of();
  private long delivery;

  /**
   * Goes on with what was in force before, if anything was.
   *
   * @param say takes what a person at the gateway should know
   * @param listen opens what a release needs to be tried
   */
  Updates(
      ServerLink server, ReleaseFolder folder, Identity own, Consumer<String> say, Listening listen)
      throws IOException {
    this.server = server;
    this.folder = folder;
    this.own = own;
    this.say = say;
    this.listen = listen;
    Optional<InForce> before = folder.inForce();
    if (before.isPresent()) {
      Delivery known = checked(before.get());
      Manifest manifest = Manifest.read(before.get().manifest());
      policy = compiled(manifest);
      listen.listen(policy);
      delivery = known.delivery();
      say.accept("release " + manifest.release() + " is in force, as before");
    }
  }

  /** What is done once a release is in force. */
  interface Listening {
    /** Says in words what became of open connections; nothing where there were none. */
    String listen(Policy policy) throws IOException;
  }

  /** What is in force; nothing before the first release. */
  Optional<Policy> policy() {
    return Optional.ofNullable(policy);
  }

  /** Has {@link #follow} end; whoever wants that at once interrupts its thread then. */
  void stop() {
    isStopped = true;
  }

  /** Follows the server until it is stopped; with growing waits while the server is away. */
  void follow() {
    long wait = FIRST_WAIT;
    // Reading an answer may lose an interrupt, so that alone does not end it.
    while (!isStopped && !Thread.currentThread().isInterrupted()) {
      try {
        sayPorts();
        Optional<InForce> told = server.told(own, delivery);
        wait = FIRST_WAIT;
        if (told.isPresent()) {
          take(told.get());
        } else {
          refresh();
        }
      } catch (InterruptedException e) {
        Thread.currentThread().interrupt();
      } catch (IOException e) {
        say.accept("the server: " + e.getMessage() + "; asked again in " + wait + " ms");
        wait = pause(wait);
      }
    }
  }

  /** Where clients come in is said once, and again when that changes. */
  private void sayPorts() throws IOException, InterruptedException {
    List<ReleaseFolder.ZonePort> ports = folder.ports();
    if (!ports.equals(said)) {
      server.sayPorts(own, ports);
      said = ports;
    }
  }

  private static long pause(long millis) {
    try {
      Thread.sleep(millis);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
    return Math.min(LONGEST_WAIT, millis * 2);
  }

  private void take(InForce told) throws IOException, InterruptedException {
    Delivery next;
    try {
      next = checked(told);
    } catch (FaultException e) {
      // Nobody knows which delivery this is, so none is said to have failed but the next.
      server.say(own, delivery + 1, "failed", e.getMessage(), release());
      throw new IOException(e.getMessage(), e);
    }
    try {
      Manifest manifest = Manifest.read(told.manifest());
      demandNewer(next, manifest);
      for (Manifest.PartName part : manifest.parts()) {
        if (!folder.has(part.digest())) {
          String content = server.part(own, part.digest());
          if (!Digests.of(content).equals(part.digest())) {
            throw new FaultException("part", "", part.digest() + " is not what its digest says");
          }
          folder.keepPart(part.digest(), content);
        }
      }
      server.say(own, next.delivery(), "fetched", "", release());
      Policy compiled = compiled(manifest);
      server.say(own, next.delivery(), "checked", "", release());
      folder.keep(told);
      policy = compiled;
      String sessions = listen.listen(compiled);
      delivery = next.delivery();
      say.accept("release " + manifest.release() + " is in force " + sessions);
      server.say(own, delivery, "in force", sessions, release());
    } catch (RuntimeException e) {
      delivery = next.delivery();
      say.accept("release " + next.release() + " is not taken: " + e.getMessage());
      server.say(own, delivery, "failed", String.valueOf(e.getMessage()), release());
    }
  }

  private Policy compiled(Manifest manifest) throws IOException {
    return new Policy(manifest, folder.texts(manifest), LocalDate.now());
  }

  /** On another day people may be known no more, or from now on. */
  private void refresh() throws IOException {
    if (policy != null && !policy.day().equals(LocalDate.now())) {
      policy = compiled(Manifest.read(folder.inForce().orElseThrow().manifest()));
    }
  }

  private Optional<Integer> release() {
    return policy().map(Policy::release);
  }

  /**
   * A delivery that the server has signed for this gateway.
   *
   * @throws FaultException saying what is wrong with it
   */
  private Delivery checked(InForce told) {
    if (!Digests.isSigned(told.delivery(), told.signature(), own.publicKey())
        || !Digests.isSigned(told.manifest(), told.manifestSignature(), own.publicKey())) {
      throw new FaultException("delivery", "", "its signature is not the server's");
    }
    Delivery read = Delivery.read(told.delivery());
    if (!read.gateway().equals(own.gateway())) {
      throw new FaultException("delivery", "", "it is meant for gateway " + read.gateway());
    }
    if (!read.manifest().equals(Digests.of(told.manifest()))) {
      throw new FaultException("delivery", "", "its manifest is not the one it names");
    }
    return read;
  }

  private void demandNewer(Delivery next, Manifest manifest) {
    if (next.delivery() <= delivery) {
      throw new FaultException(
          "delivery", "", "number " + next.delivery() + " is not newer than " + delivery);
    }
    if (next.release() != manifest.release()) {
      throw new FaultException("delivery", "", "its manifest is of another release");
    }
    if (!next.isBack() && release().orElse(0) > next.release()) {
      throw new FaultException(
          "delivery",
          "",
          "release "
              + next.release()
              + " is older than the one in force, and it says nothing of going back");
    }
  }
}
