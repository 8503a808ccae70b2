-- Hours that are otherwise say who is there by one word.
UPDATE day_plans SET body = replace(replace(body, '"at_home":true', '"who":"home"'), '"helped":true', '"who":"helped"');
