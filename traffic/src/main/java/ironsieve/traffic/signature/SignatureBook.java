package ironsieve.traffic.signature;

import ironsieve.files.CompanyFolder;
import ironsieve.files.Documents.ApplicationDoc;
import ironsieve.text.TextException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Stream;

/**
 * The signatures of a catalogue and of an organisation's own applications, as they are written with
 * each application.
 */
public final class SignatureBook {

  private final List<Written> written;
  private final List<Signature> signatures = new ArrayList<>();
  private final List<Problem> problems = new ArrayList<>();
  private final Map<String, Set<String>> ridesOn = new HashMap<>();

  /** Each has a limit of its own, so that an edition never leaves out what somebody wrote. */
  private final ExpressionSize.Sum ofEdition = new ExpressionSize.Sum();

  private final ExpressionSize.Sum own = new ExpressionSize.Sum();
  private SignatureMatcher matcher;

  /**
   * An application with what is written of it.
   *
   * @param features what it has; a signature may name no other
   * @param ridesOn the carriers it is seen inside
   * @param texts its signatures, one each
   */
  public record Written(
      String application,
      boolean isOwn,
      List<String> features,
      List<String> ridesOn,
      List<String> texts) {}

  /**
   * A signature that cannot be read.
   *
   * @param number which of the application's, counted from 1
   * @param column where in it, counted from 1
   */
  public record Problem(String application, int number, int column, String message) {

    /** All of it as one sentence. */
    public String sentence() {
      return application + ", signature " + number + ", column " + column + ": " + message;
    }
  }

  /** Reads signatures; what cannot be read is a problem, and the others are used. */
  public SignatureBook(List<Written> applications) {
    written = List.copyOf(applications);
    for (Written one : applications) {
      ridesOn.put(one.application(), Set.copyOf(one.ridesOn()));
      for (int i = 0; i < one.texts().size(); i++) {
        read(one, i);
      }
    }
  }

  private void read(Written of, int number) {
    try {
      Signature signature =
          SignatureText.parse(
              of.application(), of.isOwn(), of.texts().get(number), of.isOwn() ? own : ofEdition);
      signature
          .feature()
          .filter(feature -> !of.features().contains(feature))
          .ifPresent(
              feature -> {
                throw new TextException(
                    0, of.application() + " has no feature \"" + feature + "\"");
              });
      signatures.add(signature);
    } catch (TextException e) {
      problems.add(new Problem(of.application(), number + 1, e.position() + 1, e.getMessage()));
    }
  }

  /**
   * The signatures of one edition of the catalogue and of the company's own applications.
   *
   * @throws ironsieve.files.FaultException if the folder cannot be read
   */
  public static SignatureBook of(CompanyFolder folder, int edition) {
    return new SignatureBook(
        Stream.concat(
                folder.applications(edition).stream().map(one -> written(one, false)),
                folder.ownApplications().stream().map(one -> written(one, true)))
            .toList());
  }

  /** What an application's signatures are, in its own words. */
  public static Written written(ApplicationDoc one, boolean isOwn) {
    return new Written(one.name(), isOwn, one.features(), one.ridesOn(), one.signatures());
  }

  /** The applications as they are written. */
  public List<Written> texts() {
    return written;
  }

  /** All that could be read. */
  public List<Signature> signatures() {
    return List.copyOf(signatures);
  }

  /** Those that could not be read. */
  public List<Problem> problems() {
    return List.copyOf(problems);
  }

  /** The carriers each application is seen inside. */
  public Map<String, Set<String>> ridesOn() {
    return ridesOn;
  }

  /** All of them as one matcher; compiled when first asked for. */
  public synchronized SignatureMatcher matcher() {
    if (matcher == null) {
      matcher = new SignatureMatcher(signatures, ridesOn);
    }
    return matcher;
  }
}
