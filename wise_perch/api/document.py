"""The OpenAPI document, told as it is: every error a problem, who may ask, plain names and summaries."""

from typing import Any

from fastapi import FastAPI
from fastapi.openapi.utils import get_openapi
from pydantic import BaseModel

PROBLEM = "application/problem+json"


class ProblemDetails(BaseModel):
    """An answer that says what went wrong (RFC 9457: Nottingham, Wilde, Dalal, 2023, Problem Details for HTTP
    APIs): `detail` is a sentence a person can act on; `problems` names the fields where there are some.
    """

    type: str
    title: str
    status: int
    detail: str
    problems: list[dict[str, Any]] | None = None


SAID = {
    401: "Nobody is signed in, or the token is not known.",
    403: "Not from here, or not by this coach.",
    404: "There is no such record among this coach's.",
    408: "The body did not arrive in time.",
    409: "It contradicts what is there already.",
    413: "The body is larger than what is taken.",
    421: "The server does not go by the name it was called by.",
    422: "What was sent cannot be kept as it is.",
    429: "Too many tries; wait as Retry-After says.",
    500: "A fault of the server; it is in its log.",
    503: "The database cannot be reached; sending again later is safe.",
}
ERRORS: dict[int | str, dict[str, Any]] = {
    status: {"model": ProblemDetails, "description": said} for status, said in SAID.items()
}


def _as_problem(answers: dict[str, Any]) -> None:
    for status in SAID:
        if str(status) in answers:
            answers[str(status)] = {"$ref": f"#/components/responses/Problem{status}"}


def _summary(described: str, name: str) -> str:
    """The first sentence of what a route says it does, or its name in words."""
    sentence = " ".join(described.split()).partition(". ")[0].rstrip(".")
    return sentence or name.replace("_", " ")


def _whole(app: FastAPI) -> dict[str, Any]:
    made = get_openapi(
        title=app.title,
        version=app.version,
        routes=app.routes,
        description=(
            "The api of one hall. A coach signs in (`/api/sign-in`, a cookie) or a script sends a token of"
            " theirs (`Authorization: Bearer`). Records are made under ids of the caller's, UUIDs of version"
            " 7, so that sending again is safe."
        ),
        separate_input_output_schemas=False,
    )
    for operations in made["paths"].values():
        for operation in operations.values():
            operation["summary"] = _summary(operation.get("description", ""), operation["operationId"])
            _as_problem(operation["responses"])
            for kind, said in operation["responses"].get("200", {}).get("content", {}).items():
                # tables and calendars are text, what is JSON or YAML an object
                said.setdefault("schema", {"type": "string" if kind.startswith("text/") else "object"})
    problem = {PROBLEM: {"schema": {"$ref": "#/components/schemas/ProblemDetails"}}}
    made["components"]["responses"] = {
        f"Problem{status}": {"description": said, "content": problem} for status, said in SAID.items()
    }
    schemas = made["components"]["schemas"]
    for name in ("HTTPValidationError", "ValidationError"):
        schemas.pop(name, None)
    # a schema's title is its name: two shapes of one title would become one class in a generated client
    for name, schema in schemas.items():
        schema["title"] = name
    return made


def install(app: FastAPI) -> None:
    """Have the application give this document."""

    def openapi() -> dict[str, Any]:
        if not app.openapi_schema:
            app.openapi_schema = _whole(app)
        return app.openapi_schema

    app.openapi = openapi  # type: ignore[method-assign]
