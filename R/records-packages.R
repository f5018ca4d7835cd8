# Data packages and DDI codebooks.

# The resource of a data package: by name, by the file that it describes, or the
# only one.
package_resource <- function(path, name, for_file, call) {
  stop_codebook <- function(...) {
    stop_input(c(...), "codebook", path = path, call = call)
  }
  resources <- package_resources(path, stop_codebook)
  names <- vapply(resources, function(one) one$name %||% "", "")
  paths <- lapply(resources, function(one) as.character(unlist(one$path)))
  at <- if (!is.null(name)) which(names == name) else if (!is.null(for_file))
    which(vapply(paths, function(p) for_file %in% basename(p), NA)) else
    seq_along(resources)
  if (!length(at) && length(resources) == 1L) at <- 1L
  if (length(at) != 1L) {
    stop_codebook(tells("resources_not_clear_meant", basename(path),
                        length(resources), list_some(names)),
                  i = tells("name_one_sheet_sheet"))
  }
  unsafe <- leaves_folder(paths[[at]])
  if (any(unsafe)) {
    stop_codebook(tells("names_not_file_own_folder", basename(path),
                        paths[[at]][unsafe][1L]),
                  i = tells("files_read_only_folder_data"))
  }
  list(path = file.path(dirname(path), paths[[at]]),
       codebook = resource_codebook(resources[[at]]$schema, path, stop_codebook,
                                    call))
}

package_resources <- function(path, stop_codebook) {
  package <- parse_json(text_of(path), function(why) {
    stop_codebook(tells("file_cannot_be_read", basename(path)), x = why)
  })
  resources <- if (is.list(package)) package$resources
  if (!is.list(resources) || !length(resources))
    stop_codebook(tells("no_resources", basename(path)))
  for (k in seq_along(resources)) {
    one <- resources[[k]]
    good <- is.list(one) && !is.null(names(one)) && length(one$path) &&
            all(vapply(one$path, is_one_text, NA)) &&
            (is.null(one$name) || is_one_text(one$name))
    if (!good) stop_codebook(tells("resource_no_path_name_not", k, basename(path)))
  }
  resources
}

is_one_text <- function(x) is.character(x) && length(x) == 1L && !is.na(x)

# The schema of a resource: in the package, or in a file beside it.
resource_codebook <- function(schema, path, stop_codebook, call) {
  if (!is.character(schema))
    return(if (!is.null(schema))
             codebook_from_schema(schema, basename(path), stop_codebook))
  if (!is_one_text(schema) || !nzchar(trimws(schema)) ||
        basename(schema) == "datapackage.json")
    stop_codebook(tells("schema_one_file_none_names", basename(path)))
  if (leaves_folder(schema))
    stop_codebook(tells("schema_not_file_package_own", schema))
  file <- file.path(dirname(path), schema)
  if (is_ddi(schema)) read_ddi(file, stop_codebook, call) else
    read_schema(file, call)
}

leaves_folder <- function(path) {
  grepl("^(/|~|[A-Za-z]:|[a-z]+://)|(^|/)\\.\\.(/|$)", path)
}

# DDI Codebook: variables with labels, categories, which of those are missing,
# and which variable is a weight. Entities are not replaced and nothing is
# fetched.
read_ddi <- function(path, stop_codebook, call) {
  need_package("xml2", tells("to_read_xml_codebook"), call)
  document <- tryCatch(xml2::xml_ns_strip(
                         xml_document(path, basename(path), "XML", call)),
                       fairlattice_error = function(e) {
                         stop_codebook(unname(e$message), e$body)
                       })
  variables <- xml2::xml_find_all(document, "//var")
  if (!length(variables))
    stop_codebook(tells("codebook_no_variables_var", basename(path)))
  text <- function(node, what) {
    found <- xml2::xml_find_first(node, what)
    if (inherits(found, "xml_missing")) NULL else trimws(xml2::xml_text(found))
  }
  fields <- lapply(variables, function(variable) {
    categories <- lapply(xml2::xml_find_all(variable, "./catgry"),
                         function(category) {
                           value <- text(category, "./catValu")
                           list(value = value,
                                label = text(category, "./labl") %||% value,
                                gone = identical(
                                  toupper(xml2::xml_attr(category, "missing")),
                                  "Y"))
                         })
    gone <- vapply(categories, function(category) category$gone, NA)
    type <-
      xml2::xml_attr(xml2::xml_find_first(variable, "./varFormat"), "type")
    list(name = xml2::xml_attr(variable, "name") %|NA|% NULL,
         weight = identical(xml2::xml_attr(variable, "wgt"), "wgt"),
         title = text(variable, "./labl"),
         type = if (identical(type, "numeric")) "number" else "any",
         categories = if (any(!gone)) categories[!gone],
         categoriesOrdered = identical(xml2::xml_attr(variable, "nature"),
                                       "ordinal"),
         missingValues = c(list(list(value = "", label = "")),
                           categories[gone]))
  })
  codebook_from_schema(list(title = text(document, "//stdyDscr//titl"),
                            fields = fields), basename(path), stop_codebook)
}

is_ddi <- function(path) grepl("\\.xml$", path, ignore.case = TRUE)

# A codebook in any form: a Table Schema, that of a data package, or a DDI
# Codebook.
read_codebook <- function(path, for_file = NULL, call = rlang::caller_env()) {
  stop_codebook <- function(...) {
    stop_input(c(...), "codebook", path = path, call = call)
  }
  if (!file.exists(path)) stop_codebook(tells("no_codebook", path))
  if (basename(path) == "datapackage.json")
    return(package_resource(path, NULL, for_file, call)$codebook)
  if (is_ddi(path)) read_ddi(path, stop_codebook, call) else read_schema(path, call)
}
