/**
 * Exact set algebra. In: points of ordered lines (addresses, ports, minutes) and numbered atoms.
 * Out: immutable range sets, index sets, boxes and unions of boxes. Imports nothing of the project.
 *
 * <pre>
 * Address, number ─▶ Range ─▶ RangeSet ─▶ atoms ─▶ IndexSet ─▶ Box (one side a dimension) ─▶ Box.minus
 * </pre>
 */
package ironsieve.region;
