package ironsieve.traffic.signature;

import java.util.Optional;

/**
 * How one application, or one feature of it, is recognised.
 *
 * @param feature nothing where it is the application's own; a feature's signature holds together
 *     with one of its application's own, if that has any
 * @param isOwn whether the organisation wrote it, and not an edition of the catalogue
 */
public record Signature(
    String application, Optional<String> feature, boolean isOwn, Condition condition) {

  /** What it recognises: an application, or one of its features. */
  public String recognises() {
    return feature.map(name -> application + "/" + name).orElse(application);
  }
}
