import { deviceWords } from './deviceWords'

test('a browser is named with what it runs on, and a program as one', () => {
  const named = [
    'Mozilla/5.0 (iPhone; CPU iPhone OS 17_5 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/17.5 Mobile/15E148 Safari/604.1',
    'Mozilla/5.0 (Linux; Android 14; Pixel 8) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/126.0 Mobile Safari/537.36',
    'Mozilla/5.0 (Windows NT 10.0; Win64; x64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/126.0 Safari/537.36 Edg/126.0',
    'Mozilla/5.0 (X11; Linux x86_64; rv:127.0) Gecko/20100101 Firefox/127.0',
    'curl/8.5.0',
    '',
  ].map(deviceWords)
  expect(named).toEqual([
    'Safari on iPhone',
    'Chrome on Android',
    'Edge on Windows',
    'Firefox on Linux',
    'A program',
    'A program',
  ])
})
