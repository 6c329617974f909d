"""What `lint-imports` asks of the domains beside their order: each is entered by its own door."""

from typing import Any

from grimp import ImportGraph
from importlinter import Contract, ContractCheck, fields, output

DOORS = {"public", "schemas", "schemas_student"}


class DomainDoors(Contract):
    """A domain shows others `public`, and what it sends as JSON; models, and the
    `models_*` beside them, may name those of others for their foreign keys.

    What puts the product together (`outside`) may also enter by `api`, `apps`, `signals` and the like: it is not asked.
    """

    domains = fields.ModuleField()
    outside = fields.SetField(subfield=fields.ModuleField())

    def check(self, graph: ImportGraph, verbose: bool) -> ContractCheck:
        root = str(self.domains)
        outside = {str(module) for module in self.outside}  # type: ignore[attr-defined]

        def domain(module: str) -> str:
            """The domain that a module belongs to; nothing for what all of them share."""
            name, _, inside = module.removeprefix(root + ".").partition(".")
            return name if module.startswith(root + ".") and (inside or f"{module}.apps" in graph.modules) else ""

        inside = [module for module in graph.modules if domain(module)]
        wrong: list[dict[str, Any]] = []
        for imported in inside:
            door = imported.rsplit(".", 1)[1]
            for importer in graph.find_modules_that_directly_import(imported):
                if domain(importer) == domain(imported) or any(importer.startswith(name) for name in outside):
                    continue
                between_models = door == "models" and importer.rsplit(".", 1)[1].partition("_")[0] == "models"
                at_start = door == "signals" and importer.endswith(".apps")
                if door not in DOORS and not between_models and not at_start:
                    wrong.extend(graph.get_import_details(importer=importer, imported=imported))
        return ContractCheck(kept=not wrong, metadata={"wrong": wrong})

    def render_broken_contract(self, check: ContractCheck) -> None:
        for entry in check.metadata["wrong"]:
            output.print_error(
                f"{entry['importer']}:{entry['line_number']} enters {entry['imported']}; import it from `public`."
            )
