using System.Text.Json.Nodes;

namespace Narbit.Unknown;

/// <summary>What the ledger says of itself: OpenAPI 3.1.</summary>
internal static class HarbourContract
{
    public static JsonNode Document(string address) =>
        JsonNode.Parse(
            $$"""
            {
              "openapi": "3.1.0",
              "info": { "title": "Harbour Ledger", "version": "2" },
              "servers": [ { "url": "{{address}}/ledger/" } ],
              "security": [ { "clients": [] } ],
              "paths": {
                "/v2/ping": { "get": { "summary": "Whether it answers",
                  "responses": { "200": { "description": "It does", "content": { "application/json": { "schema": { "type": "object",
                    "properties": { "product": { "type": "string" } } } } } } } } },
                "/v2/articles": {
                  "get": { "summary": "All articles", "parameters": [ { "$ref": "#/components/parameters/limit" } ],
                    "responses": { "200": { "description": "A page; the Link header has the next",
                      "headers": { "Link": { "schema": { "type": "string" } } },
                      "content": { "application/json": { "schema": {
                        "type": "array", "items": { "$ref": "#/components/schemas/Article" } } } } } } },
                  "post": { "summary": "A new article",
                    "requestBody": { "content": { "application/json": { "schema": { "$ref": "#/components/schemas/Article" } } } },
                    "responses": { "201": { "description": "Made", "headers": { "Location": { "schema": { "type": "string" } } } } } } },
                "/v2/articles/{articleNo}": {
                  "parameters": [ { "name": "articleNo", "in": "path", "required": true, "schema": { "type": "string" } } ],
                  "get": { "summary": "One article",
                    "responses": { "200": { "description": "It",
                      "content": { "application/json": { "schema": { "$ref": "#/components/schemas/Article" } } } } } },
                  "put": { "summary": "Changes an article",
                    "requestBody": { "content": { "application/json": { "schema": { "$ref": "#/components/schemas/ArticleChange" } } } },
                    "responses": { "204": { "description": "Changed" } } } },
                "/v2/stock": { "get": { "summary": "Stock levels", "parameters": [ { "$ref": "#/components/parameters/limit" } ],
                    "responses": { "200": { "description": "A page",
                      "headers": { "Link": { "schema": { "type": "string" } } },
                      "content": { "application/json": { "schema": {
                        "type": "array", "items": { "$ref": "#/components/schemas/Level" } } } } } } } },
                "/v2/stock/{levelId}": { "get": { "summary": "One level",
                    "parameters": [ { "name": "levelId", "in": "path", "required": true, "schema": { "type": "integer" } } ],
                    "responses": { "200": { "description": "It",
                      "content": { "application/json": { "schema": { "$ref": "#/components/schemas/Level" } } } } } } }
              },
              "components": {
                "securitySchemes": { "clients": { "type": "oauth2", "flows": { "clientCredentials": {
                  "tokenUrl": "{{address}}/sign-in/token", "scopes": {} } } } },
                "parameters": { "limit": { "name": "limit", "in": "query", "schema": { "type": "integer", "maximum": 25 } } },
                "schemas": {
                  "Article": { "type": "object", "required": [ "articleNo", "designation", "netPrice" ], "properties": {
                    "articleNo": { "type": "string", "readOnly": true },
                    "ean": { "type": "string", "maxLength": 14 },
                    "designation": { "type": "string", "maxLength": 80 },
                    "netPrice": { "type": "number", "description": "Net, in EUR" },
                    "purchasePrice": { "type": "number" },
                    "vatRate": { "type": "number" },
                    "weightGrams": { "type": "integer" },
                    "maker": { "type": "string" },
                    "online": { "type": "boolean" },
                    "modifiedAt": { "type": "string", "format": "date-time", "readOnly": true },
                    "replaces": { "$ref": "#/components/schemas/Article" } } },
                  "ArticleChange": { "allOf": [ { "$ref": "#/components/schemas/Article" } ] },
                  "Level": { "type": "object", "required": [ "levelId", "articleNo", "site", "onHand" ], "properties": {
                    "levelId": { "type": "integer" },
                    "articleNo": { "type": "string" },
                    "site": { "type": "string" },
                    "onHand": { "type": "number" },
                    "reserved": { "type": "number" } } }
                }
              }
            }
            """
        )!;
}
