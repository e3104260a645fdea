package dev.dusky.core.alert;

import java.time.Instant;
import java.util.Optional;

/**
 * An alert that is not over.
 *
 * @param changes how many times its condition has changed since it was opened
 * @param acknowledged by whom and when somebody took it on, if somebody did
 */
public record Alert(
    long id,
    AlertKind kind,
    String about,
    String words,
    String command,
    int changes,
    Instant opened,
    Instant changed,
    Optional<String> acknowledged) {}
