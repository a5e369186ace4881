/** The shipped renderer of OpenAPI descriptions, as much of it as the desk uses. */
declare module 'swagger-ui-dist/swagger-ui-es-bundle.js' {
  const draw: (options: {
    url: string;
    domNode: HTMLElement;
    docExpansion: 'none';
    defaultModelsExpandDepth: number;
    filter: boolean;
    validatorUrl: null;
    requestInterceptor: (request: { headers: Record<string, string> }) => unknown;
    onComplete: () => void;
  }) => void;
  export default draw;
}

declare module 'swagger-ui-dist/swagger-ui.css';
