import svelte from 'eslint-plugin-svelte';
import ts from 'typescript-eslint';

export default ts.config(
	{ ignores: ['dist/', 'node_modules/', 'generated/', 'public/'] },
	...ts.configs.strict,
	...svelte.configs.recommended,
	{
		files: ['**/*.svelte', '**/*.svelte.ts'],
		languageOptions: { parserOptions: { parser: ts.parser } },
		// the router takes plain links, so there is no resolver to call
		rules: { 'svelte/no-navigation-without-resolve': 'off' }
	}
);
