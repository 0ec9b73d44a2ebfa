window.SwaggerUIBundle({ url: "/api/openapi.json", dom_id: "#docs", deepLinking: true, validatorUrl: null });
