# make demo   the main job on the demo survey       make test   every test
# Both do all the set-up that a fresh machine lacks, in this folder: what they install stays in .build.
SOURCES := $(shell find R src exec inst -type f ! -name '*.o' ! -name '*.so') DESCRIPTION NAMESPACE
LIBRARY := $(CURDIR)/.build/library
export R_LIBS := $(LIBRARY)$(if $(R_LIBS),:$(R_LIBS))

.PHONY: setup built install demo test test-newest check bench lint docs site house mutate sanitize screenshots clean
.DELETE_ON_ERROR:

setup:
	@tools/setup

built: .build/installed

# The stamp is younger than the sources when the library has what the sources say.
.build/installed: $(SOURCES)
	@mkdir -p .build
	@tools/setup run
	@tools/install
	@touch $@

# into R's own library, for every day
install:
	@tools/setup run
	@mkdir -p .build
	@tools/install "$$(R_LIBS= Rscript --vanilla tools/library.R)"

demo: built
	@$(LIBRARY)/fairlattice/exec/fairlattice demo --out fairlattice-demo
	@printf '\nTo have the command at hand:\n  export PATH="%s:$$PATH"\n' "$(LIBRARY)/fairlattice/exec"

test: setup built
	@tools/with-databases Rscript tools/test.R $(ONLY)

# the same against the newest packages of the repository that R is set to, in a library of their own
test-newest:
	@tools/newest $(ONLY)

check: setup built
	@tools/check

bench: built
	@Rscript bench/bench.R
	@Rscript bench/on-demand.R
	@Rscript bench/forms.R
	@Rscript bench/book.R
	@Rscript bench/page.R
	@Rscript bench/desk.R
	@tools/with-databases Rscript bench/sources.R

lint:
	@tools/setup dev
	@Rscript tools/lint.R

docs: built
	@tools/setup dev
	@Rscript tools/docs.R
	@tools/install

site: built
	@tools/setup site
	@Rscript tools/site.R

house:
	@tools/house

mutate: built
	@tools/mutate

sanitize: setup
	@tools/sanitize

screenshots: built
	@tools/screenshots

clean:
	rm -rf .build fairlattice-demo src/*.o src/*.so
