/** The use cases: load feeds and rehearse loads. */
package dev.dusky.app.load;
