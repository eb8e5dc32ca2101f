"""A client that speaks as the interface does."""

from __future__ import annotations

from typing import Any

from flask.testing import FlaskClient


class Client:
    def __init__(self, http: FlaskClient) -> None:
        self.http = http

    def get(self, path: str) -> Any:
        response = self.http.get(f"/api{path}")
        assert response.status_code == 200, response.text
        return response.get_json()

    def post(self, path: str, body: Any, status: int = 200) -> Any:
        response = self.http.post(f"/api{path}", json=body)
        assert response.status_code == status, response.text
        return response.get_json()

    def delete(self, path: str, status: int = 200) -> Any:
        response = self.http.delete(f"/api{path}")
        assert response.status_code == status, response.text
        return response.get_json()

    def do(self, state: Any, command: str, status: int = 200, **fields: Any) -> Any:
        body = {"seen": state["version"], "command": {"do": command, **fields}}
        return self.post(f"/projects/{state['id']}/commands", body, status)

    def feeder(self) -> Any:
        return self.post("/projects", {"sample": "feeder"})
