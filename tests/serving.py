"""A client that speaks as the interface does."""

from __future__ import annotations

from typing import Any

import jsonpatch
from flask.testing import FlaskClient


class Client:
    def __init__(self, http: FlaskClient) -> None:
        self.http = http
        self.documents: dict[str, dict[int, Any]] = {}

    def get(self, path: str) -> Any:
        response = self.http.get(f"/api{path}")
        assert response.status_code == 200, response.text
        answer = response.get_json()
        if isinstance(answer, dict) and answer.get("document") and "since" in answer:
            self.documents.setdefault(answer["id"], {})[answer["version"]] = answer["document"]
        return answer

    def post(self, path: str, body: Any, status: int = 200) -> Any:
        response = self.http.post(f"/api{path}", json=body)
        assert response.status_code == status, response.text
        return self._whole(response.get_json())

    def _whole(self, answer: Any) -> Any:
        """An answer that holds a patch, made whole as the page does it; the patch must give what the server has."""
        if not isinstance(answer, dict) or "since" not in answer:
            return answer
        known = self.documents.setdefault(answer["id"], {})
        if answer["document"] is None:
            document = jsonpatch.apply_patch(known[answer["since"]], answer["patch"])
            now = self.get(f"/projects/{answer['id']}")
            assert now["document"] == document and now["version"] == answer["version"]
            answer = {**answer, "document": document, "steps": now["steps"]}
        known[answer["version"]] = answer["document"]
        return answer

    def delete(self, path: str, status: int = 200) -> Any:
        response = self.http.delete(f"/api{path}")
        assert response.status_code == status, response.text
        return response.get_json()

    def do(self, state: Any, command: str, status: int = 200, **fields: Any) -> Any:
        body = {"seen": state["version"], "command": {"do": command, **fields}}
        return self.post(f"/projects/{state['id']}/commands", body, status)

    def feeder(self) -> Any:
        return self.post("/projects", {"sample": "feeder"})
