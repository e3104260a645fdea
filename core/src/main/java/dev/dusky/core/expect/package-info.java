/** What senders say of their files: control totals, trailers, sidecar files and manifests. */
package dev.dusky.core.expect;
