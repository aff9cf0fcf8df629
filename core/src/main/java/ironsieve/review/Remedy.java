package ironsieve.review;

/**
 * A proposed edit that ends a finding. What else it would change is for the impact to say, before
 * it is applied.
 *
 * @param edit what to do
 * @param words the same, in words
 */
public record Remedy(Edit edit, String words) {}
