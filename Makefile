# make demo   the main job on the demo survey       make test   every test
# Both do all the set-up that a fresh machine lacks.
SOURCES := $(shell find R src exec inst -type f ! -name '*.o' ! -name '*.so') DESCRIPTION NAMESPACE

.PHONY: setup install demo test check bench lint docs house mutate sanitize screenshots clean
.DELETE_ON_ERROR:

setup:
	@tools/setup

install: .build/installed

# The stamp is younger than the sources when the library has what the sources say.
.build/installed: $(SOURCES)
	@mkdir -p .build
	@tools/setup run
	@tools/install
	@touch $@

demo: install
	@fairlattice=$$(Rscript --vanilla -e 'cat(system.file("exec", package = "fairlattice"))'); \
	  "$$fairlattice/fairlattice" demo --out fairlattice-demo; \
	  printf '\nTo have the command at hand:\n  export PATH="%s:$$PATH"\n' "$$fairlattice"

test: setup install
	@tools/with-databases Rscript tools/test.R $(ONLY)

check: setup
	@tools/check

bench: install
	@Rscript bench/bench.R
	@Rscript bench/on-demand.R
	@Rscript bench/forms.R
	@Rscript bench/book.R
	@Rscript bench/page.R
	@Rscript bench/desk.R
	@tools/with-databases Rscript bench/sources.R

lint:
	@tools/setup dev
	@Rscript -e 'found <- lintr::lint_package(); print(found); quit(status = length(found) > 0)'

docs: install
	@tools/setup dev
	@Rscript tools/docs.R
	@tools/install

house:
	@tools/house

mutate: install
	@tools/mutate

sanitize: setup
	@tools/sanitize

screenshots: install
	@tools/screenshots

clean:
	rm -rf .build fairlattice-demo src/*.o src/*.so
