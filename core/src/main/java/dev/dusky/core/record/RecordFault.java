package dev.dusky.core.record;

import dev.dusky.core.reject.RejectCode;

/**
 * Why a record could not even be split into fields.
 *
 * @param code the reason
 * @param field the field at fault, from 1, or 0 for the record as a whole
 * @param message what is wrong, without a full stop
 */
public record RecordFault(RejectCode code, int field, String message) {}
