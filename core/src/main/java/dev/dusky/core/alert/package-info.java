/** Conditions that need somebody, alerts about them, and the messages about alerts. */
package dev.dusky.core.alert;
