/**
 * What recorded traffic consists of: sums by rule, person, application and so on, over time, of
 * what somebody narrows it to. Knows decided lines and nothing of files.
 */
package ironsieve.traffic.view;
