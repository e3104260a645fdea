/**
 * A small object store over a folder that speaks the S3 protocol: for the demo and the tests, with
 * faults that can be switched on. Not meant to keep anything of value.
 */
package dev.dusky.standin;
